/** Which documents disagree, and what did we decide? Then the documents, and the bulletins. */
import Button from "react-bootstrap/Button";
import { useState } from "react";
import { Link, useOutletContext } from "react-router";

import type { ConflictGroup, Documents } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { useDocuments } from "../app/queries";
import { useWrite } from "../app/useWrite";
import { TextField } from "../kit/fields";
import { Said, Waiting } from "../marks/Said";
import { VerdictMark } from "../marks/VerdictMark";
import { plural, when } from "../marks/words";
import { Bulletins } from "./Bulletins";
import { NewDocument } from "./NewDocument";
import { NewStatement } from "./NewStatement";
import { Entry } from "../kit/Entry";
import { TakeAway } from "../kit/TakeAway";
import "./sources.css";

const RELATION: Record<string, string> = {
  disjoint: "have nothing in common",
  overlap: "overlap only in part",
  narrower: "agree only in part, one is narrower",
  conflict: "give different counts",
  agree: "agree",
};

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
        {may && <NewStatement documents={data.documents} />}
      </section>
      <aside className="verdict-sheet" aria-label="Documents and bulletins">
        <DocumentList documents={data.documents} may={may} />
        <Bulletins data={data} may={may} />
      </aside>
    </div>
  );
}

function Conflict({ group, may }: { group: ConflictGroup; may: boolean }) {
  const { aircraft } = useOutletContext<FrameContext>();
  const { write, error, busy } = useWrite();
  const [chosen, setChosen] = useState("");
  const [own, setOwn] = useState("");
  const [reason, setReason] = useState("");
  const bay = aircraft.bays.find((b) => b.slug === group.bay);
  const travel = group.sides[0]?.key.startsWith("requirement:");
  const decide = () => {
    const body = { thing: group.thing, chosen: chosen === "own" ? own : chosen, reason };
    return write("resolutions", body, `decision on ${group.thing}`);
  };
  return (
    <section className="conflict-row" aria-label={group.thing}>
      <h2>
        <VerdictMark verdict={group.open ? (group.stale ? "stale" : "too close") : "in"} />{" "}
        {group.link ? (
          <Link to={`/a/${aircraft.slug}/${group.link}`}>{group.thing}</Link>
        ) : (
          group.thing
        )}{" "}
        {bay && <span className="quiet">{bay.name}</span>}
      </h2>
      <div className="sides">
        {group.sides.map((s) => (
          <label key={s.key} className={chosen === s.key ? "side chosen" : "side"}>
            <span className="side-said">{s.said}</span>
            <span>
              {s.cited}
              {s.page && `, page ${s.page}`}
            </span>
            {may && group.open && (
              <span className="tick">
                <input
                  type="radio"
                  name={group.thing}
                  checked={chosen === s.key}
                  onChange={() => setChosen(s.key)}
                />
                This one counts
              </span>
            )}
          </label>
        ))}
      </div>
      {group.trouble && <p>{group.trouble}</p>}
      {group.pairs
        .filter((p) => p.result !== "agree")
        .map((p) => (
          <p key={p.a + p.b} className="quiet">
            They {RELATION[p.result]}
            {p.both && ` (${p.both})`}.
          </p>
        ))}
      {group.chosen && (
        <p>
          {group.stale ? "Decided before one of them changed: " : "Decided: "}
          <strong>{group.chosen}</strong>. {group.reason}{" "}
          <span className="quiet">
            {group.by}, {when(group.at)}
          </span>
        </p>
      )}
      {may && group.open && (
        <Entry
          label={`Decide: ${group.thing}`}
          save={decide}
          button="Decide"
          off={!chosen || busy}
          error={error}
        >
          {!travel && (
            <>
              <label className="tick">
                <input
                  type="radio"
                  name={group.thing}
                  checked={chosen === "own"}
                  onChange={() => setChosen("own")}
                />
                Neither: own value
              </label>
              {chosen === "own" && <TextField label="Own value" value={own} set={setOwn} />}
            </>
          )}
          <TextField label="Why; who answered" value={reason} set={setReason} />
        </Entry>
      )}
    </section>
  );
}

function DocumentList({ documents, may }: { documents: Documents["documents"]; may: boolean }) {
  const { write, error, busy } = useWrite();
  const [revising, setRevising] = useState<number | null>(null);
  const [revision, setRevision] = useState("");
  return (
    <>
      <h2>Documents</h2>
      <ul className="happened">
        {documents.map((d) => (
          <li key={d.id}>
            <strong>{d.cited}</strong>{" "}
            <span className="quiet">
              {d.dated && `${d.dated}, `}
              {plural(d.cited_by, "travel requirement")}
            </span>{" "}
            {may && revising !== d.id && (
              <button
                type="button"
                className="plain"
                onClick={() => {
                  setRevising(d.id);
                  setRevision("");
                }}
              >
                Revise or take away
              </button>
            )}
            {revising === d.id && (
              <Entry
                label={`New revision of ${d.title}`}
                save={() => {
                  const body = { version: d.version, revision };
                  void write(`documents/${d.id}`, body, `revision of ${d.title}`, "PATCH").then(
                    (done) => done && setRevising(null),
                  );
                }}
              >
                <TextField label="Revision" value={revision} set={setRevision} />
                <Button type="submit" disabled={busy}>
                  Keep revision
                </Button>
                <p className="quiet">
                  What was signed or decided under rev {d.revision} goes stale.
                </p>
              </Entry>
            )}
            {revising === d.id && (
              <>
                <TakeAway
                  what={d.cited}
                  at={`documents/${d.id}`}
                  version={d.version}
                  hint="Only a document that nothing cites can go."
                />{" "}
                <button type="button" className="plain" onClick={() => setRevising(null)}>
                  Leave as it is
                </button>
              </>
            )}
          </li>
        ))}
      </ul>
      {may && <NewDocument />}
      <Said error={error} />
    </>
  );
}
