/** What stands between me and closing up, bay by bay? */
import { Link, useOutletContext, useSearchParams } from "react-router";

import type { Aircraft, ClosingRow, Lane } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { useClosure, useLane } from "../app/queries";
import { GateBar, STATE_WORD } from "../closing/GateBar";
import { GateItems } from "../closing/GateItems";
import { Waiting } from "../marks/Said";
import { day, plural } from "../marks/words";
import { LaneFigure } from "./LaneFigure";
import { useBay } from "./useBay";
import "./lane.css";

export function LanePage() {
  const { aircraft } = useOutletContext<FrameContext>();
  const lane = useLane(aircraft.slug);
  const [bay, setBay] = useBay();
  const [search, setSearch] = useSearchParams();
  const all = lane.data?.closings ?? [];
  const open = all.filter((c) => !c.closed && (!bay || c.bays.includes(bay)));
  const closed = all.filter((c) => c.closed && (!bay || c.bays.includes(bay)));
  const chosen = open.find((c) => c.slug === search.get("closure")) ?? open[0];
  const choose = (slug: string) =>
    setSearch((before) => {
      const after = new URLSearchParams(before);
      after.set("closure", slug);
      return after;
    });
  const here = aircraft.bays.find((b) => b.slug === bay);
  return (
    <div className="lane-page">
      <h1 className="visually-hidden">Lane of the {aircraft.name}</h1>
      <div className="lane-scroll">
        <LaneFigure aircraft={aircraft} tall />
      </div>
      {here && (
        <p className="chosen-bay">
          <strong>{here.name}</strong> {plural(here.open, "thing")} open ·{" "}
          <Link to={`/a/${aircraft.slug}/bays/${here.slug}`}>Everything in this bay</Link> ·{" "}
          <button type="button" className="plain" onClick={() => setBay(null)}>
            All bays
          </button>
        </p>
      )}
      {!lane.data && <Waiting error={lane.error} />}
      {lane.data && (
        <div className="two">
          <section aria-label="Next to close">
            <h2>Next to close</h2>
            <Empty aircraft={aircraft} open={open} />
            <ul className="closings">
              {open.map((c) => (
                <ClosingItem
                  key={c.slug}
                  closing={c}
                  chosen={c === chosen}
                  pick={() => choose(c.slug)}
                />
              ))}
            </ul>
            <Closed aircraft={aircraft} closed={closed} />
          </section>
          <section aria-label="In the way">
            {chosen && <InTheWay aircraft={aircraft} closing={chosen} />}
            <Outside lane={lane.data} />
          </section>
        </div>
      )}
    </div>
  );
}

function Empty({ aircraft, open }: { aircraft: Aircraft; open: ClosingRow[] }) {
  if (open.length > 0) return null;
  if (aircraft.closures.length > 0) return <p>Everything here is closed.</p>;
  return (
    <p>
      No closures yet. <Link to={`/a/${aircraft.slug}/airframe`}>Enter what closes each bay</Link>.
    </p>
  );
}

function ClosingItem(p: { closing: ClosingRow; chosen: boolean; pick: () => void }) {
  const c = p.closing;
  return (
    <li className={p.chosen ? "chosen" : ""}>
      <button type="button" aria-pressed={p.chosen} onClick={p.pick}>
        <span>
          <strong>{c.name}</strong>{" "}
          <span className="quiet">
            {c.permanent ? "permanent" : "removable"} ·{" "}
            {c.planned_on ? `planned ${day(c.planned_on)}` : "no date"}
          </span>
        </span>
        <span className="num">
          {c.state === "blocked" ? `${c.blockers} in the way` : STATE_WORD[c.state]}
        </span>
        <GateBar closing={c} />
      </button>
      {c.overrides.map((o) => (
        <p key={o.seq} className="override">
          Overridden by {o.by}: {o.reason}
        </p>
      ))}
    </li>
  );
}

function InTheWay({ aircraft, closing }: { aircraft: Aircraft; closing: ClosingRow }) {
  const gate = useClosure(aircraft.slug, closing.slug);
  const items = gate.data?.items ?? closing.first;
  return (
    <>
      <h2>
        In the way of the {closing.name.toLowerCase()}{" "}
        <span className="quiet">{closing.blockers || "nothing"}</span>
      </h2>
      <GateItems items={items.slice(0, 12)} empty="Nothing. It can be closed." />
      {items.length > 12 && <p className="quiet">and {items.length - 12} more at the gate</p>}
      <p>
        <Link className="btn btn-primary" to={`/a/${aircraft.slug}/closures/${closing.slug}`}>
          Go to the gate
        </Link>
      </p>
    </>
  );
}

function Closed({ aircraft, closed }: { aircraft: Aircraft; closed: ClosingRow[] }) {
  if (closed.length === 0) return <p className="quiet">Nothing is closed yet.</p>;
  return (
    <p className="quiet">
      Closed:{" "}
      {closed.map((c, i) => (
        <span key={c.slug}>
          {i > 0 && ", "}
          <Link to={`/a/${aircraft.slug}/closures/${c.slug}`}>{c.name}</Link>
          {c.overrides.length > 0 && " (overridden)"}
        </span>
      ))}
    </p>
  );
}

function Outside({ lane }: { lane: Lane }) {
  if (lane.outside.length === 0) return null;
  return (
    <details className="outside">
      <summary>In no bay: {lane.outside_count}</summary>
      <GateItems items={lane.outside} empty="" />
      {lane.outside_count > lane.outside.length && (
        <p className="quiet">
          and {lane.outside_count - lane.outside.length} more: they follow as these are done
        </p>
      )}
    </details>
  );
}
