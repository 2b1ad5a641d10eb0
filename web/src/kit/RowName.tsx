/** The first cell of a row that can be chosen: its verdict, its name, and what stands beside it. */
import type { Verdict } from "../app/api";
import { VerdictMark } from "../marks/VerdictMark";

export function RowName(p: {
  name: string;
  verdict: string | null;
  chosen: boolean;
  pick: () => void;
  children?: React.ReactNode;
}) {
  return (
    <td className="row-name">
      <div>
        {p.verdict && <VerdictMark verdict={p.verdict as Verdict} />}
        <button type="button" className="plain" aria-pressed={p.chosen} onClick={p.pick}>
          {p.name}
        </button>
        {p.children}
      </div>
    </td>
  );
}
