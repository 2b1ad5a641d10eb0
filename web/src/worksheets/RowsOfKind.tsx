/** Rows of one kind as a table: what was typed in a line, and how each stands. */
import { useOutletContext } from "react-router";

import type { FrameContext } from "../app/Frame";
import { RowName } from "../kit/RowName";
import { measured } from "./AskedField";
import type { RowKind, TypedRow } from "./RowForm";
import { words } from "./TypedSaid";

const MOST = 5;
const NUMBERS = { length: 1, mass: 1, moment: 1, number: 1, volume: 1, density: 1, temperature: 1 };

export function RowsOfKind(p: {
  kind: RowKind;
  rows: (TypedRow & { said: string; verdict?: string | null })[];
  /** Of kinds that ask much: what tells one from another. */
  only?: string[] | undefined;
  /** What is said beside each row. */
  saidAs?: string;
  chosen: string | undefined;
  pick: (slug: string) => void;
}) {
  // Only columns in which something stands, and few: the rest is on the row's own sheet.
  const { aircraft } = useOutletContext<FrameContext>();
  const shown = p.kind.fields
    .filter((f) => f.of !== "table" && p.rows.some((r) => r.typed[f.key]))
    .filter((f) => !p.only || p.only.includes(f.key))
    .slice(0, MOST);
  return (
    <table className="asked sheets-table" tabIndex={0}>
      <thead>
        <tr>
          <th scope="col">{p.kind.title}</th>
          {shown.map((f) => (
            <th key={f.key} scope="col" className={f.of in NUMBERS ? "num" : ""}>
              {measured(f, aircraft.length_unit)}
            </th>
          ))}
          {p.rows.some((r) => r.said) && <th scope="col">{p.saidAs ?? "Now"}</th>}
        </tr>
      </thead>
      <tbody>
        {p.rows.map((r) => (
          <tr key={r.slug} className={r.slug === p.chosen ? "chosen" : ""}>
            <RowName
              name={r.name}
              verdict={r.verdict ?? null}
              chosen={r.slug === p.chosen}
              pick={() => p.pick(r.slug)}
            />
            {shown.map((f) => (
              <td key={f.key} className={f.of in NUMBERS ? "num" : ""}>
                {words(f, r.typed[f.key])}
              </td>
            ))}
            {p.rows.some((x) => x.said) && <td>{r.said}</td>}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
