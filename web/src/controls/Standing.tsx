/** How a requirement stands: its verdict; or that it does not count, another having been chosen. */
import type { Requirement } from "../app/api";
import { VerdictMark } from "../marks/VerdictMark";

/** Another document was chosen in its place. */
export const lost = (q: Requirement): boolean => {
  const decided = q.result.conflict?.decided;
  return decided != null && decided !== q.id;
};

export function Standing({ q, big }: { q: Requirement; big?: boolean }) {
  const c = q.result.conflict;
  if (lost(q)) return <span className="quiet">Does not count</span>;
  const open = c !== null && c.decided === null;
  const own = open ? c.sides.find((s) => s.requirement === q.id)?.verdict : undefined;
  return (
    <>
      <VerdictMark verdict={own ?? q.result.verdict} word {...(big ? { big } : {})} />
      {open && <span className="quiet"> by this one; sources disagree</span>}
    </>
  );
}
