/** One ledger entry; a stale signature names what changed, from and to. */
import type { Entry } from "../app/api";
import { VerdictMark } from "../marks/VerdictMark";
import { plain, when } from "../marks/words";

export function EntryItem({ entry, scope }: { entry: Entry; scope?: boolean }) {
  const signature = entry.kind === "signature";
  return (
    <li className="entry-item">
      <span className="num">{entry.seq}</span>
      <div>
        <p>
          {signature && <VerdictMark verdict={entry.fresh ? "in" : "stale"} />}
          <strong>{entry.name}</strong> {entry.role && `as ${entry.role}`}, {when(entry.at)}
          {scope && <span className="quiet"> {entry.scope}</span>}
          {signature ? (
            <strong className={entry.fresh ? "holds" : "stale"}>
              {" "}
              {entry.fresh ? "Holds" : "Stale"}
            </strong>
          ) : (
            <strong> {entry.kind}</strong>
          )}
        </p>
        <p className="quiet">{entry.statement}</p>
        {entry.reason && <p>Reason: {entry.reason}</p>}
        {entry.changes.length > 0 && (
          <ul className="changes">
            {entry.changes.map((c) => (
              <li key={c.id}>
                {c.name}, {c.change}:{" "}
                {c.fields.map((f) => (
                  <span key={f.field} className="change">
                    {plain(f.field)} {f.was || "nothing"} → {f.now || "nothing"}
                  </span>
                ))}
              </li>
            ))}
          </ul>
        )}
        <code className="hash">{entry.hash}</code>
      </div>
    </li>
  );
}
