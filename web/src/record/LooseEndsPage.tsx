/** What did I leave undone on purpose? Grouped by what ends it, or by bay. */
import { useState } from "react";
import { Link, useOutletContext, useSearchParams } from "react-router";

import type { LooseEnd } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { useLooseEnds } from "../app/queries";
import { useWrite } from "../app/useWrite";
import { OnlyBay } from "../aircraft/OnlyBay";
import { useBay } from "../aircraft/useBay";
import { TextField } from "../kit/fields";
import { Said, Waiting } from "../marks/Said";
import { capital, plural, when } from "../marks/words";
import { LeaveLoose } from "./LeaveLoose";
import { Entry } from "../kit/Entry";
import "./record.css";

export function LooseEndsPage() {
  const { aircraft } = useOutletContext<FrameContext>();
  const [bay] = useBay();
  const [search, setSearch] = useSearchParams();
  const byBay = search.get("by") === "bay";
  const open = useLooseEnds(aircraft.slug, bay);
  const names = new Map(aircraft.bays.map((b) => [b.slug, b.name]));
  const groups = new Map<string, LooseEnd[]>();
  for (const e of open.data?.results ?? []) {
    const key = byBay ? (names.get(e.bay) ?? "In no bay") : e.ends_with;
    groups.set(key, [...(groups.get(key) ?? []), e]);
  }
  const by = (value: string) =>
    setSearch((before) => {
      const after = new URLSearchParams(before);
      after.set("by", value);
      return after;
    });
  return (
    <div className="page-in">
      <h1>{plural(open.data?.count ?? 0, "loose end")}</h1>
      <OnlyBay />
      <p>
        <button
          type="button"
          className="plain"
          aria-pressed={!byBay}
          onClick={() => by("what ends it")}
        >
          By what ends them
        </button>{" "}
        <button type="button" className="plain" aria-pressed={byBay} onClick={() => by("bay")}>
          By bay
        </button>
      </p>
      {!open.data && <Waiting error={open.error} />}
      {open.data?.count === 0 && (
        <p>
          Nothing is left loose{bay ? " here" : ""}. When you leave a pin out or a nut finger-tight,
          say so here or in the bar below: <code>loose cotter rudder horn: until final rig</code>.
        </p>
      )}
      <div className="groups">
        {[...groups].map(([title, ends]) => (
          <section key={title} aria-label={title}>
            <h2>
              {capital(title)} <span className="quiet">{ends.length}</span>
            </h2>
            <ul className="happened">
              {ends.map((e) => (
                <End key={e.id} end={e} place={byBay ? `until ${e.ends_with}` : names.get(e.bay)} />
              ))}
            </ul>
          </section>
        ))}
      </div>
      {open.data && open.data.count > open.data.results.length && (
        <p>
          {open.data.results.length} of {open.data.count} are shown: choose a bay on the lane.
        </p>
      )}
      {aircraft.may.includes("measure") && <LeaveLoose />}
      <Ended bay={bay} />
    </div>
  );
}

function End({ end, place }: { end: LooseEnd; place: string | undefined }) {
  const { aircraft } = useOutletContext<FrameContext>();
  const { write, error, busy } = useWrite();
  const [how, setHow] = useState("");
  return (
    <li className="loose">
      <div>
        <strong>{end.what}</strong> {place && <span>· {place}</span>}
        <p className="quiet">
          {end.reason && `${end.reason}. `}
          {end.left_by}, {when(end.left_at)}
          {end.joint && (
            <>
              {" · "}
              <Link to={`/a/${aircraft.slug}/joints?joint=${end.joint}`}>the joint</Link>
            </>
          )}
        </p>
        <Said error={error} />
      </div>
      {aircraft.may.includes("measure") && (
        <Entry
          label={`End: ${end.what}`}
          save={() => void write(`loose-ends/${end.id}/end`, { how }, `ended ${end.what}`)}
          button="It is done"
          variant="outline-primary"
          off={busy}
        >
          <TextField label="How it was ended" value={how} set={setHow} hint="optional" />
        </Entry>
      )}
    </li>
  );
}

function Ended({ bay }: { bay: string | null }) {
  const { aircraft } = useOutletContext<FrameContext>();
  const ended = useLooseEnds(aircraft.slug, bay, true);
  if (!ended.data || ended.data.count === 0) return null;
  return (
    <details>
      <summary>Ended: {ended.data.count}</summary>
      <ul className="happened">
        {ended.data.results.map((e) => (
          <li key={e.id}>
            {e.what}{" "}
            <span className="quiet">
              {e.ended_by}, {when(e.ended_at)}
              {e.how && `: ${e.how}`}
            </span>
          </li>
        ))}
      </ul>
    </details>
  );
}
