/** The wires: from where to where, and which of their steps are done. */
import type { HarnessPage, HarnessRow } from "../app/api";
import { RowName } from "../kit/RowName";

export function WireTable(p: {
  rows: HarnessRow[];
  steps: HarnessPage["steps"];
  chosen: string | undefined;
  pick: (slug: string) => void;
}) {
  if (!p.rows.length) return null;
  return (
    <div className="wide-table">
      <table className="asked wires-table" tabIndex={0}>
        <thead>
          <tr>
            <th scope="col">Wires</th>
            <th scope="col">Circuit</th>
            <th scope="col">From</th>
            <th scope="col">To</th>
            <th scope="col">Gauge</th>
            <th scope="col" className="num">
              Length, m
            </th>
            {p.steps.map((s) => (
              <th key={s.value} scope="col" className="step">
                {HEADS[s.value] ?? s.word}
              </th>
            ))}
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
              <td>{said(r, "circuit")}</td>
              <td>{said(r, "from")}</td>
              <td>{said(r, "to")}</td>
              <td>{r.typed.awg ? `AWG ${String(r.typed.awg)}` : "not said"}</td>
              <td className="num">{r.length_m === null ? "not said" : r.length_m.toFixed(2)}</td>
              {p.steps.map((s) => (
                <td key={s.value} className="step">
                  {r.done.includes(s.value) ? (
                    <span role="img" aria-label={`${s.word}: done`}>
                      ✓
                    </span>
                  ) : (
                    <span role="img" aria-label={`${s.word}: open`} className="open">
                      ·
                    </span>
                  )}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

const HEADS: Record<string, string> = {
  run: "Run",
  end_a: "Start",
  end_b: "End",
  tested: "Tested",
  labelled: "Label",
};

/** What was typed, or that nobody said. */
const said = (r: HarnessRow, key: string): string => {
  const value = r.typed[key];
  return typeof value === "string" && value ? value : "not said";
};
