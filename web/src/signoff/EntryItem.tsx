/** One ledger entry; a stale signature names what changed, from and to. */
import type { Entry } from "../app/api";
import { VerdictMark } from "../marks/VerdictMark";
import { plain, when } from "../marks/words";

/** What is listed at once; the rest is folded. */
const SHOWN = 8;

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
        {signature && entry.changes.length > 0 && (
          <p className="stale">{inOneLine(entry.changes)}</p>
        )}
        <p className="quiet">{entry.statement}</p>
        {entry.reason && <p>Reason: {entry.reason}</p>}
        <Changes list={entry.changes.slice(0, SHOWN)} />
        {entry.changes.length > SHOWN && (
          <details>
            <summary>and {entry.changes.length - SHOWN} changes more</summary>
            <Changes list={entry.changes.slice(SHOWN)} />
          </details>
        )}
        <code className="hash">{entry.hash}</code>
      </div>
    </li>
  );
}

type Change = Entry["changes"][number];

function Changes({ list }: { list: Change[] }) {
  if (!list.length) return null;
  return (
    <ul className="changes">
      {list.map((c) => (
        <li key={c.id}>
          {c.name}, {c.change}:{" "}
          {c.fields.map((f) => (
            <span key={f.field} className="change">
              {plain(f.field)} {told(c, f)}
            </span>
          ))}
        </li>
      ))}
    </ul>
  );
}

/** What made a signature stale, before the list. */
export function inOneLine(changes: Change[]): string {
  const [first, ...others] = changes;
  if (!first) return "";
  const field = first.fields[0];
  const how = field && first.change === "changed" ? `: ${told(first, field)}` : "";
  const more = others.length ? `, and ${others.length} more` : "";
  return `Since it was signed, ${first.name} was ${first.change}${how}${more}.`;
}

/** From and to; of what came or went, what it says alone. */
function told(c: Change, f: Change["fields"][number]): string {
  if (c.change === "changed") return `${f.was || "nothing"} → ${f.now || "nothing"}`;
  return f.now || f.was || "nothing";
}
