/** The gate of one closure: what blocks, the tool count, the decision, and what happened. */
import Button from "react-bootstrap/Button";
import { useState } from "react";
import { Link, useOutletContext, useParams } from "react-router";

import { api, type ClosureDetail, got } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { useClosure, useRefresh } from "../app/queries";
import { useWrite } from "../app/useWrite";
import { TextField } from "../kit/fields";
import { Caution, Said, Waiting } from "../marks/Said";
import { day, plural, when } from "../marks/words";
import { Photos } from "../record/Photos";
import { STATE_WORD } from "./GateBar";
import { GateItems } from "./GateItems";
import { ToolCount } from "./ToolCount";
import { Entry } from "../kit/Entry";
import "./closing.css";

export function ClosurePage() {
  const { aircraft } = useOutletContext<FrameContext>();
  const { closure = "" } = useParams();
  const gate = useClosure(aircraft.slug, closure);
  if (!gate.data) return <Waiting error={gate.error} />;
  return <Gate key={closure} gate={gate.data} />;
}

function Gate({ gate }: { gate: ClosureDetail }) {
  const { aircraft } = useOutletContext<FrameContext>();
  const names = new Map(aircraft.bays.map((b) => [b.slug, b.name]));
  return (
    <div className="subject closure-page">
      <section className="figure" aria-label="Gate">
        <h1>{gate.name}</h1>
        <p className="quiet">
          {gate.permanent ? "Permanent" : "Removable"} ·{" "}
          {gate.bays.map((b, i) => (
            <span key={b}>
              {i > 0 && ", "}
              <Link to={`/a/${aircraft.slug}/bays/${b}`}>{names.get(b) ?? b}</Link>
            </span>
          ))}{" "}
          · {gate.planned_on ? `planned ${day(gate.planned_on)}` : "no date planned"}
        </p>
        <p className={`gate-state gate-${gate.closed ? "closed" : gate.state}`} role="status">
          {gate.closed ? (gate.for_now ? "Put on for now" : "Closed") : STATE_WORD[gate.state]}
          {!gate.closed && gate.blockers > 0 && `: ${gate.blockers} in the way`}
        </p>
        {gate.overrides.map((o) => (
          <div key={o.seq} className="override">
            <strong>
              Overridden by {o.by}, {when(o.at)}
            </strong>{" "}
            (ledger entry {o.seq}): {o.reason}
            <ul>
              {o.covers.map((c) => (
                <li key={c}>{c}</li>
              ))}
            </ul>
          </div>
        ))}
        {(!gate.closed || gate.for_now) && (
          <>
            <GateItems
              items={gate.items}
              empty="Nothing stands in the way."
              here={gate.bays.length === 1 ? gate.bays[0] : ""}
            />
            <Steps gate={gate} />
          </>
        )}
        <h2>Photos</h2>
        <Photos
          of={{ target: "closure", target_id: gate.slug }}
          target="closure"
          targetId={gate.slug}
          shows="before closing"
        />
        <History gate={gate} />
      </section>
      <aside className="verdict-sheet" aria-label="Decide">
        {(!gate.closed || gate.for_now) && <Decide gate={gate} />}
        {gate.closed && <OpenAgain gate={gate} />}
      </aside>
    </div>
  );
}

function Steps({ gate }: { gate: ClosureDetail }) {
  return (
    <details>
      <summary>All thirteen steps of the gate</summary>
      <table className="asked steps">
        <thead>
          <tr>
            <th scope="col">Step</th>
            <th scope="col" className="num">
              pass
            </th>
            <th scope="col" className="num">
              block
            </th>
          </tr>
        </thead>
        <tbody>
          {gate.steps.map((s) => (
            <tr key={s.step}>
              <td>{s.step}</td>
              <td className="num">{s.passing}</td>
              <td className="num">{s.failing || ""}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </details>
  );
}

function Decide({ gate }: { gate: ClosureDetail }) {
  const { write, error, busy } = useWrite();
  const close = (purpose: string) =>
    void write(`closures/${gate.slug}/close`, { purpose }, `close ${gate.name}`);
  const may = gate.state === "ready" || gate.state === "overridden";
  const count = gate.items.some((i) => i.step === "count");
  return (
    <>
      <h2>Tools and loose objects</h2>
      {gate.closed ? <p>Counted when it was put on.</p> : <ToolCount gate={gate} />}
      <h2>Close it</h2>
      {!gate.can_close && <p>Only the owner closes.</p>}
      {gate.can_close && (
        <div className="buttons">
          <Button disabled={!may || busy} onClick={() => close("final")}>
            Close for good
          </Button>
          {!gate.permanent && !gate.closed && (
            <Button
              variant="outline-primary"
              disabled={count || busy}
              onClick={() => close("temporary")}
            >
              Put on for now
            </Button>
          )}
        </div>
      )}
      {!may && (
        <p className="quiet">
          {plural(gate.blockers, "thing")} must be done first
          {!gate.permanent &&
            "; put on for now, for dust or the night, it needs only the tool count"}
          .
        </p>
      )}
      <Said error={error} />
      {gate.can_close && gate.items.length > 0 && <Override gate={gate} />}
    </>
  );
}

function Override({ gate }: { gate: ClosureDetail }) {
  const { aircraft } = useOutletContext<FrameContext>();
  const refresh = useRefresh(aircraft.slug);
  const [error, setError] = useState<unknown>(null);
  const [busy, setBusy] = useState(false);
  const [reason, setReason] = useState("");
  const [password, setPassword] = useState("");
  const [chosen, setChosen] = useState<Set<string>>(new Set());
  const toggle = (hash: string) =>
    setChosen((before) => {
      const after = new Set(before);
      if (!after.delete(hash)) after.add(hash);
      return after;
    });
  const override = async () => {
    setBusy(true);
    try {
      // Sent at once and never kept for later: a password stays in no storage.
      await got(
        api.POST("/api/aircraft/{slug}/closures/{closure}/override", {
          params: { path: { slug: aircraft.slug, closure: gate.slug } },
          body: { blockers: [...chosen], reason, password },
        }),
      );
      setError(null);
      setReason("");
      setChosen(new Set());
    } catch (e) {
      setError(e);
    }
    setPassword("");
    setBusy(false);
    await refresh();
  };
  return (
    <details className="override-form">
      <summary>Close over something that is not done</summary>
      <Caution>
        You are closing over something that is not done. If it is a flight control or a fuel line,
        get a second person to look before you do.
      </Caution>
      <Entry label="Override" save={override} className="" error={error}>
        <ul>
          {gate.items.map((i) => (
            <li key={i.hash}>
              <label className="tick">
                <input
                  type="checkbox"
                  checked={chosen.has(i.hash)}
                  onChange={() => toggle(i.hash)}
                />
                <span>
                  {i.subject}: {i.state}
                </span>
              </label>
            </li>
          ))}
        </ul>
        <TextField label="Reason, who agreed" value={reason} set={setReason} />
        <TextField label="Your password again" type="password" value={password} set={setPassword} />
        <Button type="submit" variant="outline-primary" disabled={chosen.size === 0 || busy}>
          Override {chosen.size || ""}
        </Button>
        <p className="quiet">It goes into the ledger and stays visible here for ever.</p>
      </Entry>
    </details>
  );
}

function OpenAgain({ gate }: { gate: ClosureDetail }) {
  const { write, error, busy } = useWrite();
  const [reason, setReason] = useState("");
  if (!gate.can_close) return <p>It is closed.</p>;
  return (
    <Entry
      label="Open again"
      save={() => void write(`closures/${gate.slug}/open`, { reason }, `open ${gate.name}`)}
      className=""
      button="Open it"
      off={busy}
      error={error}
    >
      <h2>Open it again</h2>
      <p>Inspections of the bays behind it will be stale: they have to be signed again.</p>
      <TextField label="Why it is opened" value={reason} set={setReason} />
    </Entry>
  );
}

function History({ gate }: { gate: ClosureDetail }) {
  if (gate.events.length === 0) return null;
  return (
    <>
      <h2>What happened</h2>
      <ul className="happened">
        {gate.events.map((e) => (
          <li key={e.at}>
            <strong>{e.doing === "closed" ? "Closed" : "Opened"}</strong>
            {e.purpose && (e.purpose === "final" ? " for good" : " for now")}, {e.by}, {when(e.at)}
            {e.reason && `: ${e.reason}`}
            {e.counted.length > 0 && (
              <p className="quiet">
                Tools:{" "}
                {e.counted
                  .map((t) => `${String(t.name)} ${String(t.in)} in, ${String(t.out)} out`)
                  .join("; ")}
              </p>
            )}
          </li>
        ))}
      </ul>
    </>
  );
}
