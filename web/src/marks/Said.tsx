/** What went wrong, where it stands, and what changed meanwhile if something did. */
import { Problem } from "../app/api";

export function Said({ error }: { error: unknown }) {
  if (!error) return null;
  const text = error instanceof Error ? error.message : "Something failed.";
  const theirs = error instanceof Problem && error.status === 409 ? error.theirs : null;
  return (
    <div className="said" role="alert">
      {text}
      {theirs !== null && (
        <details open>
          <summary>As it is now; yours is still in the row</summary>
          <ul className="theirs">
            {Object.entries(theirs as Record<string, unknown>)
              .filter(([, v]) => ["string", "number"].includes(typeof v) && v !== "")
              .map(([k, v]) => (
                <li key={k}>
                  {k.replaceAll("_", " ")}: {String(v)}
                </li>
              ))}
          </ul>
        </details>
      )}
    </div>
  );
}

export function Caution({ children }: { children: React.ReactNode }) {
  return (
    <p className="caution">
      <strong>Caution.</strong> {children}
    </p>
  );
}

/** Loading, failed, or what is there. */
export function Waiting({ error }: { error: unknown }) {
  return error ? <Said error={error} /> : <p className="quiet p-3">Reading …</p>;
}
