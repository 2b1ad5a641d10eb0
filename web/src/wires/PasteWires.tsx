/** Many wires at once. */
import type { HarnessPage } from "../app/api";
import { PasteTyped } from "../worksheets/PasteTyped";

const KEYS = ["circuit", "part", "awg", "from", "to", "length", "bundles", "class", "colour"];

export function PasteWires({ page }: { page: HarnessPage }) {
  const kind = page.kinds.find((k) => k.id === "wire");
  const fields = KEYS.map((key) => kind?.fields.find((f) => f.key === key)).filter(
    (f) => f !== undefined,
  );
  return <PasteTyped at="harness/wires" many="wires" one="Wire" hint="W12" fields={fields} />;
}
