/** Where is it, and what must be opened to reach it? One search over everything. */
import Form from "react-bootstrap/Form";
import { useEffect, useState } from "react";
import { Link, useOutletContext, useSearchParams } from "react-router";

import type { FrameContext } from "../app/Frame";
import { useFind } from "../app/queries";
import { Said } from "../marks/Said";
import { plural } from "../marks/words";
import "./find.css";

export function FindPage() {
  const { aircraft } = useOutletContext<FrameContext>();
  const [search, setSearch] = useSearchParams();
  const asked = search.get("q") ?? "";
  const [typed, setTyped] = useState(asked);
  useEffect(() => {
    const timer = setTimeout(() => {
      if (typed !== asked)
        setSearch(
          (before) => {
            const after = new URLSearchParams(before);
            if (typed.trim()) after.set("q", typed);
            else after.delete("q");
            return after;
          },
          { replace: true },
        );
    }, 200);
    return () => clearTimeout(timer);
  }, [typed, asked, setSearch]);
  const found = useFind(aircraft.slug, asked);
  return (
    <div className="page-in">
      <h1>Find</h1>
      <Form.Control
        className="find-field"
        type="search"
        autoFocus
        aria-label="Look for"
        value={typed}
        placeholder="a part, a label, a note, a bay"
        onChange={(e) => setTyped(e.target.value)}
      />
      {!asked && (
        <p className="quiet">
          Names, parts, notes, captions, labels drawn on pictures, bays and documents. Each answer
          says what must be opened to reach it.
        </p>
      )}
      <Said error={asked ? found.error : null} />
      {found.data && asked && (
        <p role="status">
          {found.data.count === 0
            ? "Nothing of that name. Try the beginning of a word, or fewer words."
            : plural(found.data.count, "thing")}
        </p>
      )}
      {found.data?.bays.map((b) => (
        <section key={b.bay || "none"} className="found-bay" aria-label={b.name}>
          {b.photo ? (
            <img src={b.photo} alt={b.photo_alt} />
          ) : (
            <span className="no-photo quiet">no picture</span>
          )}
          <div>
            <h2>
              {b.bay ? <Link to={`/a/${aircraft.slug}/bays/${b.bay}`}>{b.name}</Link> : b.name}
            </h2>
            {b.closures.length > 0 && <p className="quiet">Closed by: {b.closures.join(", ")}</p>}
            <ul className="happened">
              {b.results.map((r) => (
                <li key={r.kind + r.title}>
                  <span className="quiet">{r.kind}</span>{" "}
                  {r.link ? (
                    <Link to={`/a/${aircraft.slug}/${r.link}`}>
                      <strong>{r.title}</strong>
                    </Link>
                  ) : (
                    <strong>{r.title}</strong>
                  )}
                  {r.text && <p>{r.text}</p>}
                  {r.way && <p className={`way-in way-${r.reach.replace(" ", "-")}`}>{r.way}</p>}
                  {r.place && <p className="quiet">{r.place}</p>}
                </li>
              ))}
            </ul>
          </div>
        </section>
      ))}
    </div>
  );
}
