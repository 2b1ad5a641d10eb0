/** How far a closure is: what passes, what is wrong, what is open, as one bar with its words. */
import type { ClosingRow } from "../app/api";
import "./closing.css";

export function GateBar({ closing }: { closing: ClosingRow }) {
  const passing = closing.steps.reduce((n, s) => n + s.passing, 0);
  const all = passing + closing.blockers;
  return (
    <span className="gate-bar" role="img" aria-label={`${passing} of ${all} done`}>
      <span className="gate-done" style={{ flexGrow: passing }} />
      <span className="gate-open" style={{ flexGrow: closing.blockers }} />
    </span>
  );
}

export const STATE_WORD: Record<string, string> = {
  ready: "Ready to close",
  blocked: "Blocked",
  overridden: "Overridden",
  carried: "Can be put on for now",
};
