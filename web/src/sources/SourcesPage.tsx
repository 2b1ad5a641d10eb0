/** Which documents disagree, and what did we decide? Then the documents, and the bulletins. */
import { useState } from "react";
import { useOutletContext } from "react-router";

import type { Documents, Statement } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { useDocuments } from "../app/queries";
import { Change } from "../kit/Change";
import { TakeAway } from "../kit/TakeAway";
import { Waiting } from "../marks/Said";
import { VerdictMark } from "../marks/VerdictMark";
import { plural } from "../marks/words";
import { Bulletins } from "./Bulletins";
import { Conflict } from "./Conflict";
import { DocumentList } from "./DocumentList";
import { StatementForm } from "./StatementForm";
import "./sources.css";

export function SourcesPage() {
  const { aircraft } = useOutletContext<FrameContext>();
  const documents = useDocuments(aircraft.slug);
  if (!documents.data) return <Waiting error={documents.error} />;
  const data = documents.data;
  const open = data.groups.filter((g) => g.open);
  const decided = data.groups.filter((g) => g.disagrees && !g.open);
  const agree = data.groups.filter((g) => !g.disagrees);
  const may = aircraft.may.includes("change facts");
  return (
    <div className="subject sources-page">
      <section className="figure" aria-label="Conflicts">
        <h1>{open.length ? `${plural(open.length, "conflict")} open` : "No open conflict"}</h1>
        {open.map((g) => (
          <Conflict key={g.thing} group={g} may={may} />
        ))}
        {data.odd.length > 0 && (
          <>
            <h2>To be questioned</h2>
            <ul className="happened">
              {data.odd.map((o) => (
                <li key={o.thing + o.cited}>
                  <strong>{o.thing}</strong>: {o.said} ({o.cited}) is {o.ratio.toFixed(1)} times as
                  wide as its neighbours. A misprint?
                </li>
              ))}
            </ul>
          </>
        )}
        {decided.length > 0 && <h2>Decided</h2>}
        {decided.map((g) => (
          <Conflict key={g.thing} group={g} may={may} />
        ))}
        {agree.length > 0 && (
          <>
            <h2>Agree</h2>
            <ul className="happened">
              {agree.map((g) => (
                <li key={g.thing}>
                  <VerdictMark verdict="in" /> <strong>{g.thing}</strong>:{" "}
                  {g.sides.map((s) => `${s.said} (${s.cited})`).join(", ")}
                </li>
              ))}
            </ul>
          </>
        )}
        <Statements data={data} may={may} />
      </section>
      <aside className="verdict-sheet" aria-label="Documents and bulletins">
        <DocumentList documents={data.documents} may={may} />
        <Bulletins data={data} may={may} />
      </aside>
    </div>
  );
}

/** Everything that was entered from documents: what one of them alone says in sight, the rest
 * stands above already and is here to be corrected. */
function Statements({ data, may }: { data: Documents; may: boolean }) {
  const several = new Set(data.groups.map((g) => g.thing.toLowerCase()));
  const lone = data.statements.filter((s) => !several.has(s.thing.toLowerCase()));
  const rest = data.statements.filter((s) => !lone.includes(s));
  const list = (rows: Statement[]) => (
    <ul className="happened">
      {rows.map((s) => (
        <OneStatement key={s.id} one={s} documents={data.documents} may={may} />
      ))}
    </ul>
  );
  return (
    <>
      {data.statements.length === 0 && (
        <p className="quiet">
          Nothing is entered beyond travel. Enter what two documents both say of one thing, and
          where they disagree it shows here before it is built in.
        </p>
      )}
      {lone.length > 0 && (
        <>
          <h2>Said by one document alone</h2>
          {list(lone)}
        </>
      )}
      {may && rest.length > 0 && (
        <details>
          <summary>Correct what was entered of these: {rest.length}</summary>
          {list(rest)}
        </details>
      )}
      {may && (
        <details>
          <summary>Enter what a document says</summary>
          <StatementForm documents={data.documents} />
        </details>
      )}
    </>
  );
}

function OneStatement(p: { one: Statement; documents: Documents["documents"]; may: boolean }) {
  const { one } = p;
  const [open, setOpen] = useState(false);
  const name = `${one.thing}, ${one.cited}`;
  return (
    <li>
      <strong>{one.thing}</strong>: <span className="num">{one.value}</span> ({one.cited}
      {one.page && `, page ${one.page}`}){" "}
      {p.may && <Change name={name} open={open} set={setOpen} />}
      {open && (
        <>
          <StatementForm
            key={one.version}
            documents={p.documents}
            one={one}
            done={() => setOpen(false)}
          />
          <TakeAway what={name} at={`statements/${one.id}`} version={one.version} />
        </>
      )}
    </li>
  );
}
