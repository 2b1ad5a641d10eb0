/** What the rules say of a thing, the worst first. */
import type { CheckShown } from "../app/api";
import { VerdictMark } from "./VerdictMark";
import { Why } from "./Why";

const ORDER = ["out", "stale", "too close", "not measured", "accepted", "in"];

export function CheckList({ checks, all }: { checks: CheckShown[]; all?: boolean }) {
  const sorted = [...checks].sort((a, b) => ORDER.indexOf(a.verdict) - ORDER.indexOf(b.verdict));
  const open = sorted.filter((c) => c.verdict !== "in" && c.verdict !== "accepted");
  const fine = sorted.filter((c) => c.verdict === "in" || c.verdict === "accepted");
  return (
    <>
      <ul className="checks">
        {(all ? sorted : open).map((c) => (
          <One key={c.key} c={c} />
        ))}
      </ul>
      {!all && open.length === 0 && checks.length > 0 && <p>Nothing is open here.</p>}
      {!all && fine.length > 0 && (
        <details>
          <summary>{fine.length} in or accepted</summary>
          <ul className="checks">
            {fine.map((c) => (
              <One key={c.key} c={c} />
            ))}
          </ul>
        </details>
      )}
    </>
  );
}

function One({ c }: { c: CheckShown }) {
  return (
    <li data-check={c.key}>
      <span className="check-what">
        <VerdictMark verdict={c.verdict} word /> <strong>{c.what}</strong>
      </span>
      <span>
        {c.said} <Why why={c.why} text="Why?" />
      </span>
    </li>
  );
}
