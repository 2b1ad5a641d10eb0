/** Rows of some kinds as tables: what was typed in a line, and how each stands. */
import { useOutletContext } from "react-router";

import type { WeightKind, WeightPage, WeightRow } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { RowName } from "../kit/RowName";
import { measured } from "../worksheets/AskedField";

export function RowsTable(p: {
  page: WeightPage;
  kinds: readonly string[];
  chosen: string | undefined;
  pick: (slug: string) => void;
}) {
  return (
    <div className="row-tables">
      {p.kinds.map((id) => {
        const kind = p.page.kinds.find((k) => k.id === id);
        const listed = p.page.ledger.map((l) => l.slug);
        // What is in the ledger above is not told twice.
        const rows = p.page.results.filter(
          (r) => r.kind === id && !(id === "change" && listed.includes(r.slug)),
        );
        if (!kind || rows.length === 0) return null;
        return <OfKind key={id} kind={kind} rows={rows} chosen={p.chosen} pick={p.pick} />;
      })}
    </div>
  );
}

function OfKind(p: {
  kind: WeightKind;
  rows: WeightRow[];
  chosen: string | undefined;
  pick: (slug: string) => void;
}) {
  // Only columns in which something stands, and few: the rest is on the row's own sheet.
  const { aircraft } = useOutletContext<FrameContext>();
  const shown = p.kind.fields
    .filter((f) => f.of !== "table" && p.rows.some((r) => r.typed[f.key]))
    .filter((f) => !(p.kind.id in ONLY) || ONLY[p.kind.id]?.includes(f.key))
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
          {p.rows.some((r) => r.said) && <th scope="col">Now</th>}
        </tr>
      </thead>
      <tbody>
        {p.rows.map((r) => (
          <tr key={r.slug} className={r.slug === p.chosen ? "chosen" : ""}>
            <RowName
              name={r.name}
              verdict={r.verdict}
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

const MOST = 5;
/** Of kinds that ask much: what tells one from another. */
const ONLY: Record<string, string[]> = {
  weighing: [],
  scale: ["factor", "factor_u", "step", "certificate"],
  change: ["day", "doing", "mass", "x", "x_to"],
  loading: ["t"],
};
const NUMBERS = { length: 1, mass: 1, moment: 1, number: 1, volume: 1, density: 1, temperature: 1 };

/** What was typed, a choice by its word. */
function words(f: WeightKind["fields"][number], typed: unknown): string {
  const text = typeof typed === "string" ? typed : "";
  return f.choices.find((c) => c.value === text)?.word ?? text;
}
