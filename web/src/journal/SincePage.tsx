/** What changed since my last visit, what is newly stale, what is about to be closed? */
import Button from "react-bootstrap/Button";
import { Link, useOutletContext, useSearchParams } from "react-router";

import type { FrameContext } from "../app/Frame";
import { useSince } from "../app/queries";
import { useWrite } from "../app/useWrite";
import { Said, Waiting } from "../marks/Said";
import { VerdictMark } from "../marks/VerdictMark";
import { day, plural, when } from "../marks/words";

export function SincePage() {
  const { aircraft } = useOutletContext<FrameContext>();
  const [search, setSearch] = useSearchParams();
  const page = Number(search.get("page") ?? "1");
  const since = useSince(aircraft.slug, page);
  const { write, error, busy } = useWrite();
  if (!since.data) return <Waiting error={since.error} />;
  const data = since.data;
  const names = new Map(aircraft.bays.map((b) => [b.slug, b.name]));
  const of = (scope: string) => {
    const [kind, slug = ""] = scope.split(":");
    return kind === "bay"
      ? { to: `bays/${slug}`, word: `Inspection of ${names.get(slug) ?? slug}` }
      : { to: `controls/${slug}`, word: `Control ${slug}` };
  };
  return (
    <div className="subject since-page">
      <section className="figure" aria-label="Changes">
        <h1>What is new</h1>
        <p className="quiet">
          {data.since
            ? `Since you last looked, ${when(data.since)}`
            : "Everything: this is your first visit"}
          . {plural(data.count, "change")}.
        </p>
        <ul className="happened">
          {data.changes.map((c) => (
            <li key={c.at + c.said}>
              {c.link ? <Link to={`/a/${aircraft.slug}/${c.link}`}>{c.said}</Link> : c.said}
              <p className="quiet">
                {c.by}, {when(c.at)}
                {c.bays.length > 0 && ` · ${c.bays.map((b) => names.get(b) ?? b).join(", ")}`}
              </p>
            </li>
          ))}
        </ul>
        {data.count > page * 50 && (
          <button
            type="button"
            className="plain"
            onClick={() => setSearch({ page: String(page + 1) })}
          >
            Earlier changes
          </button>
        )}
      </section>
      <aside className="verdict-sheet" aria-label="Look at first">
        <h2>Signed, and no longer true</h2>
        {data.stale.length === 0 && <p className="quiet">Nothing has gone stale.</p>}
        <ul className="happened">
          {data.stale.map((s) => (
            <li key={s.scope}>
              <VerdictMark verdict="stale" />{" "}
              <Link to={`/a/${aircraft.slug}/${of(s.scope).to}`}>{of(s.scope).word}</Link>
              <p className="quiet">
                signed by {s.signed_by}, {when(s.signed_at)}
              </p>
            </li>
          ))}
        </ul>
        <h2>About to be closed</h2>
        {data.soon.length === 0 && <p className="quiet">Nothing in the next two weeks.</p>}
        <ul className="happened">
          {data.soon.map((c) => (
            <li key={c.slug}>
              <Link to={`/a/${aircraft.slug}/closures/${c.slug}`}>{c.name}</Link>{" "}
              <span className="quiet">
                {c.permanent ? "permanent" : "removable"}, {day(c.planned_on)}
              </span>
            </li>
          ))}
        </ul>
        <Button disabled={busy} onClick={() => void write("since", {}, "a visit")}>
          I have seen all this
        </Button>
        <Said error={error} />
      </aside>
    </div>
  );
}
