/** A row of the harness as typed. */
import type { HarnessPage, HarnessRow } from "../app/api";
import { RowForm } from "../worksheets/RowForm";

export function HarnessForm(p: {
  page: HarnessPage;
  kind: string;
  one?: HarnessRow;
  done: (slug: string) => void;
}) {
  const kind = p.page.kinds.find((k) => k.id === p.kind);
  if (!kind) return null;
  return (
    <RowForm
      at="harness"
      kind={kind}
      rows={p.page.results}
      names={{ circuit: ["circuit"], bus: ["bus"] }}
      hint={NAMES[p.kind] ?? ""}
      done={p.done}
      {...(p.one ? { one: p.one } : {})}
    />
  );
}

const NAMES: Record<string, string> = {
  circuit: "Landing light",
  wire: "W12",
  connector: "P3",
  bundle: "Aft bundle",
  bus: "Main bus",
};
