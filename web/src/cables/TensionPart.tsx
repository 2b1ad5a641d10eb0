/** Tension today: the curve, what is measured, and which turnbuckle to turn how far. */
import { useState } from "react";
import Button from "react-bootstrap/Button";
import { useOutletContext, useSearchParams } from "react-router";

import type { Cables, TensionToday } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { LiveCapture } from "../app/LiveCapture";
import { type AskToday, useInstruments, useToday } from "../app/queries";
import { useWrite } from "../app/useWrite";
import { Choice, TextField } from "../kit/fields";
import { Caution, Said } from "../marks/Said";
import { VerdictMark } from "../marks/VerdictMark";
import { Why } from "../marks/Why";
import { shown, when } from "../marks/words";
import { MeasurePanels } from "./MeasurePanels";
import { TargetForm } from "./SetupForms";
import { TensionFigure } from "./TensionFigure";
import { ByHand, TurnList } from "./TurnsPart";
import { force } from "./units";
import { Entry } from "../kit/Entry";

export function TensionPart({ cables }: { cables: Cables }) {
  const { aircraft } = useOutletContext<FrameContext>();
  const [search, setSearch] = useSearchParams();
  const [typed, setTyped] = useState(search.get("t") ?? "");
  const instruments = useInstruments(aircraft.slug);
  const thermometer = instruments.data?.results.find((i) => i.kind === "temperature" && i.live);
  const put = (key: string, v: string) => {
    setSearch(
      (before) => {
        const next = new URLSearchParams(before);
        if (v) next.set(key, v);
        else next.delete(key);
        return next;
      },
      { replace: true },
    );
  };
  const asked: AskToday = {
    temperature: search.get("t") ?? "",
    mode: search.get("levers") === "pinned" ? "pinned" : "free",
    use_learnt: search.get("learnt") !== "no",
    step: search.get("step") === "0.25" ? "0.25" : "0.5",
  };
  const today = useToday(aircraft.slug, cables.control, asked);
  const take = (t: string) => {
    const text = t.trim() && !/[a-z°]/i.test(t) ? `${t.trim()} C` : t.trim();
    setTyped(text);
    put("t", text);
  };
  const target = aircraft.may.includes("change facts") && (
    <TargetForm key={cables.version} cables={cables} open={today.error !== null && !today.data} />
  );
  return (
    <div className="subject">
      <section className="figure" aria-label="Tension over temperature">
        <Entry save={() => take(typed)} className="today-bar" loose>
          <TextField
            label="Temperature"
            value={typed}
            set={setTyped}
            hint={today.data ? shown(today.data.temperature_C, " °C") : "14 C"}
          />
          <Button type="submit" variant="outline-primary">
            Use it
          </Button>
          {thermometer && (
            <LiveCapture
              slug={aircraft.slug}
              instrument={thermometer}
              surface=""
              position=""
              word="Read the thermometer"
              unit=" °C"
              take={(v) => take(`${v} C`)}
            />
          )}
          <Choice
            label="Levers while measuring"
            value={asked.mode}
            set={(v) => put("levers", v === "free" ? "" : v)}
            options={[
              { value: "free", word: "free to even out" },
              { value: "pinned", word: "both held by pins" },
            ]}
          />
          <Choice
            label="Lock allows"
            value={asked.step}
            set={(v) => put("step", v === "0.5" ? "" : v)}
            options={[
              { value: "0.5", word: "half turns" },
              { value: "0.25", word: "quarter turns" },
            ]}
          />
        </Entry>
        <Said error={today.error} />
        {today.error !== null && target}
        {today.data && <TensionFigure today={today.data} cables={cables} />}
        {aircraft.may.some((m) => m === "measure" || m === "check") && (
          <MeasurePanels
            cables={cables}
            temperature={search.get("t") ?? ""}
            today={today.data ?? null}
          />
        )}
        {today.error === null && target}
        <Readings cables={cables} unit={today.data?.unit ?? "lb"} />
      </section>
      <section className="verdict-sheet" aria-label="What to set and what to turn">
        {today.error !== null && (
          <>
            <h1>{cables.name}: set today</h1>
            <p>
              Enter what the maker asks and what the airframe along the run is made of: the tension
              of the day follows from them.
            </p>
          </>
        )}
        {today.data && (
          <Advice
            cables={cables}
            today={today.data}
            put={put}
            can={aircraft.may.includes("measure")}
          />
        )}
      </section>
    </div>
  );
}

function Advice(p: {
  cables: Cables;
  today: TensionToday;
  put: (key: string, v: string) => void;
  can: boolean;
}) {
  const { today: t, cables } = p;
  const set = t.sides[0];
  const name = (side: string) => cables.sides.find((s) => s.side === side)?.name ?? side;
  return (
    <>
      <h1>{cables.name}: set today</h1>
      <p className="set-today">
        {set?.slack ? (
          <span>Slack</span>
        ) : set && t.alike ? (
          <span>{force(set.set_N, t.unit)}</span>
        ) : (
          t.sides.map((s) => (
            <span key={s.side}>
              {force(s.set_N, t.unit)} <small>{name(s.side)}</small>
            </span>
          ))
        )}
        <small>at {shown(t.temperature_C, " °C")}</small>
      </p>
      {set && !set.slack && (
        <p className="source">
          {force(set.low_N, t.unit)} to {force(set.high_N, t.unit)} is in. {t.source}; turned to
          this temperature by the airframe along the run, ± {force(2 * set.u_N, t.unit)}.{" "}
          <Why why={t.curves[0]?.why ?? null} text="Why this number?" />
        </p>
      )}
      {t.sides.some((s) => s.slack) && (
        <p className="suspicious">
          At this temperature a cable set right goes slack. Warm the shed before you rig.
        </p>
      )}
      {!t.sides.some((s) => s.slack) && t.sides.some((s) => s.may_be_slack) && (
        <p className="suspicious">At this temperature the cable may be slack.</p>
      )}
      <h2>What to turn</h2>
      {t.turns.some((x) => x.turns) && <TurnList {...p} />}
      <p className="advice-quiet" aria-live="polite">
        {t.said}
      </p>
      {t.learnt && (
        <p className="learnt">
          {t.learnt.said}{" "}
          <button
            type="button"
            className="plain"
            onClick={() => p.put("learnt", t.used_learnt ? "no" : "")}
          >
            {t.used_learnt ? "Use the model instead" : "Use what your turns showed"}
          </button>
        </p>
      )}
      <h2>What is there</h2>
      <ul className="side-verdicts">
        {t.sides.map((s) => (
          <li key={s.side} data-side={s.side}>
            <span className="check-what">
              <VerdictMark verdict={s.verdict} word /> <strong>{name(s.side)}</strong>
            </span>
            <span>{s.said}</span>
          </li>
        ))}
        <li>
          <strong>Surface</strong>{" "}
          {t.straight_deg === null ? (
            "Measure whether it stands straight."
          ) : (
            <>stands {shown(t.straight_deg, "°")} from straight.</>
          )}
        </li>
      </ul>
      {p.can && <ByHand cables={cables} />}
      <Caution>
        {t.caution} {cables.caution}
      </Caution>
    </>
  );
}

function Readings({ cables, unit }: { cables: Cables; unit: string }) {
  const { aircraft } = useOutletContext<FrameContext>();
  const { write, error } = useWrite();
  const [open, setOpen] = useState<number | null>(null);
  const [reason, setReason] = useState("");
  if (!cables.readings.length) return null;
  const word = { card: "gauge", pull: "scale and ruler", pluck: "sound", straight: "angle" };
  return (
    <details className="taken-list">
      <summary>{cables.readings.length} readings</summary>
      <ul className="rows">
        {cables.readings.map((r) => (
          <li key={r.id} className={r.current ? "" : "quiet"}>
            <strong>
              {cables.sides.find((s) => s.side === r.side)?.name ?? "Surface"}{" "}
              {r.method === "straight"
                ? `${shown(r.value, "°")}`
                : `${force(r.value, unit)} ± ${force(2 * r.u, unit)}`}
            </strong>
            <span>
              {word[r.method as keyof typeof word]}
              {r.temperature_C !== null && `, ${shown(r.temperature_C, " °C")}`}
              {r.instrument && `, ${r.instrument}`} <Why why={r.why} text="Why?" />
              {r.recording && (
                <>
                  {" "}
                  <a
                    href={`/api/aircraft/${aircraft.slug}/controls/${cables.control}/cables/readings/${r.id}/recording.wav`}
                  >
                    recording
                  </a>
                </>
              )}
            </span>
            <span className="quiet">
              {r.by}, {when(r.at)}
              {r.check_reading && ", check"}
              {!r.current && ", before the last turn or a later one"}{" "}
              {aircraft.may.includes("measure") && (
                <button
                  type="button"
                  className="plain"
                  onClick={() => setOpen(open === r.id ? null : r.id)}
                >
                  {open === r.id ? "Leave it" : "Take back"}
                </button>
              )}
            </span>
            {open === r.id && (
              <Entry
                save={() => {
                  void write(
                    `controls/${cables.control}/cables/readings/${r.id}/withdraw`,
                    { reason },
                    "Taken back",
                  ).then((done) => {
                    if (done) {
                      setOpen(null);
                      setReason("");
                    }
                  });
                }}
                button="Take it back"
                variant="outline-primary"
              >
                <TextField label="Why it does not count" value={reason} set={setReason} />
              </Entry>
            )}
          </li>
        ))}
      </ul>
      <Said error={error} />
    </details>
  );
}
