/** Rows of some kinds as tables: what was typed in a line, and how each stands. */
import type { WeightPage } from "../app/api";
import { RowsOfKind } from "../worksheets/RowsOfKind";

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
        return (
          <RowsOfKind
            key={id}
            kind={kind}
            rows={rows}
            only={ONLY[id]}
            chosen={p.chosen}
            pick={p.pick}
          />
        );
      })}
    </div>
  );
}

/** Of kinds that ask much: what tells one from another. */
const ONLY: Record<string, string[]> = {
  weighing: [],
  scale: ["factor", "factor_u", "step", "certificate"],
  change: ["day", "doing", "mass", "x", "x_to"],
  loading: ["t"],
};
