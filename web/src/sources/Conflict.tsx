/** One thing of which documents speak differently: their words side by side, and what counts. */
import { useState } from "react";
import { Link, useOutletContext } from "react-router";

import type { ConflictGroup } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { useWrite } from "../app/useWrite";
import { Entry } from "../kit/Entry";
import { TextField } from "../kit/fields";
import { VerdictMark } from "../marks/VerdictMark";
import { when } from "../marks/words";

const RELATION: Record<string, string> = {
  disjoint: "have nothing in common",
  overlap: "overlap only in part",
  narrower: "agree only in part, one is narrower",
  conflict: "give different counts",
  agree: "agree",
};

export function Conflict({ group, may }: { group: ConflictGroup; may: boolean }) {
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
