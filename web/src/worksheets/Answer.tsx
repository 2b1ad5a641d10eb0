/** What the rules say of a worksheet: its drawing, further answers, its checks. */
import type { ComponentType } from "react";

import type { SheetWorked, Verdict } from "../app/api";
import { CheckList } from "../marks/CheckList";
import { VerdictMark } from "../marks/VerdictMark";
import { Why } from "../marks/Why";
import type { Typed } from "./AskedField";

export type Figure = ComponentType<{
  figure: Record<string, unknown>;
  worked: SheetWorked;
  /** Moves what is drawn: the field and what is typed in it. Only where a sheet is being made. */
  place?: ((key: string, text: string) => void) | undefined;
}>;
/** What fills in a sheet that is being made, beside its fields. */
export type Aids = Partial<
  Record<string, ComponentType<{ typed: Typed; set: (more: Typed) => void }>>
>;
export type Figures = Partial<Record<string, Figure>>;

export function Answer(p: {
  worked: SheetWorked;
  Figure: Figure | undefined;
  checks?: boolean;
  place?: (key: string, text: string) => void;
}) {
  const { worked, Figure } = p;
  return (
    <div role="status" className="sheet-answer">
      {p.checks && (
        <>
          {worked.verdict && <VerdictMark verdict={worked.verdict as Verdict} big />}
          <CheckList checks={worked.checks} all />
        </>
      )}
      {Figure && Object.keys(worked.figure).length > 0 && (
        <Figure figure={worked.figure} worked={worked} place={p.place} />
      )}
      {"rows" in worked.figure && <SideBySide figure={worked.figure} />}
      {worked.facts.length > 0 && (
        <dl className="facts">
          {worked.facts.map((f) => (
            <div key={f.label}>
              <dt>{f.label}</dt>
              <dd>{f.text}</dd>
            </div>
          ))}
        </dl>
      )}
    </div>
  );
}

/** Rows of words beside each other, with the rule that gave them. */
function SideBySide({ figure }: { figure: Record<string, unknown> }) {
  const rows = figure.rows as Record<string, string>[];
  const heads = Object.keys(rows[0] ?? {}).filter((k) => k !== "id");
  const why = { rule: String(figure.rule), inputs: figure.inputs as Record<string, unknown> };
  return (
    <div className="wide-table">
      <table className="asked" tabIndex={0}>
        <thead>
          <tr>
            <th scope="col">
              <Why why={why} text="Why?" />
            </th>
            {heads.map((h) => (
              <th key={h} scope="col" className="num">
                {h}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((r) => (
            <tr key={r.id}>
              <th scope="row">{r.id}</th>
              {heads.map((h) => (
                <td key={h} className="num">
                  {r[h]}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
