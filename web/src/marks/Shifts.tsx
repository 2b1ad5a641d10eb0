/** Each verdict that keeping a trial would change. */
import type { Shift } from "../app/api";
import { VerdictMark } from "./VerdictMark";

export function Shifts({ shifts }: { shifts: Shift[] }) {
  if (!shifts.length) return <p className="shifts">Keeping it would change no verdict.</p>;
  return (
    <div className="shifts">
      <p>Keeping it would change:</p>
      <ul className="checks" aria-label="Keeping it would change">
        {shifts.map((s) => (
          <li key={`${s.what} ${s.before} ${s.after}`}>
            <span className="check-what">
              {s.before ? <VerdictMark verdict={s.before} word /> : "new"} →{" "}
              {s.after ? <VerdictMark verdict={s.after} word /> : "gone"} <strong>{s.what}</strong>
            </span>
            {s.said && <span>{s.said}</span>}
          </li>
        ))}
      </ul>
    </div>
  );
}
