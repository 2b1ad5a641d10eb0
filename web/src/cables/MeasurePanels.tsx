/** Three ways to measure a tension, and whether the surface stands straight. */
import { useState } from "react";
import Button from "react-bootstrap/Button";
import { useOutletContext } from "react-router";

import {
  api,
  type Cables,
  type CableTried,
  got,
  type Instrument,
  type TensionToday,
} from "../app/api";
import type { FrameContext } from "../app/Frame";
import { LiveCapture } from "../app/LiveCapture";
import { useInstruments } from "../app/queries";
import { useWrite } from "../app/useWrite";
import { Choice, Fields, TextField } from "../kit/fields";
import { Said } from "../marks/Said";
import { Why } from "../marks/Why";
import { CardForm } from "./CardForm";
import { PluckPanel } from "./PluckPanel";
import { force } from "./units";
import { Entry } from "../kit/Entry";
import { unless } from "../kit/unless";

export type PanelProps = {
  cables: Cables;
  side: string;
  temperature: string;
  unit: string;
};

const WAYS = [
  ["card", "Gauge with its card"],
  ["pull", "Scale and ruler"],
  ["pluck", "By sound"],
  ["straight", "Is it straight?"],
] as const;

export function MeasurePanels(p: {
  cables: Cables;
  temperature: string;
  today: TensionToday | null;
}) {
  const [way, setWay] = useState<(typeof WAYS)[number][0]>("card");
  const [side, setSide] = useState("A");
  const unit = p.today?.unit ?? "lb";
  const shared = { cables: p.cables, side, temperature: p.temperature, unit };
  return (
    <section className="measure" aria-label="Measure">
      <div className="tabs" role="tablist">
        {WAYS.map(([key, word]) => (
          <button
            key={key}
            type="button"
            role="tab"
            aria-selected={way === key}
            onClick={() => setWay(key)}
          >
            {word}
          </button>
        ))}
      </div>
      {way !== "straight" && (
        <div className="measure-side" role="group" aria-label="Cable">
          {p.cables.sides.map((s) => (
            <button
              key={s.side}
              type="button"
              className="side-choice"
              aria-pressed={side === s.side}
              onClick={() => setSide(s.side)}
            >
              {s.name}
            </button>
          ))}
          {!p.temperature && <span className="suspicious">Enter the temperature above first.</span>}
        </div>
      )}
      {way === "card" && <CardPanel key={side} {...shared} />}
      {way === "pull" && <PullPanel key={side} {...shared} />}
      {way === "pluck" && <PluckPanel key={side} {...shared} />}
      {way === "straight" && <StraightPanel {...shared} />}
    </section>
  );
}

/** Try a measurement without keeping it. */
function useTry(control: string) {
  const { aircraft } = useOutletContext<FrameContext>();
  const [tried, setTried] = useState<CableTried | null>(null);
  const [error, setError] = useState<unknown>(null);
  const attempt = async (
    side: string,
    method: "card" | "pull",
    typed: Record<string, string>,
    instrument: number | null,
  ) => {
    try {
      setTried(
        await got(
          api.POST("/api/aircraft/{slug}/controls/{control}/cables/try", {
            params: { path: { slug: aircraft.slug, control } },
            body: { side: side as "A", method, typed, instrument, temperature: "" },
          }),
        ),
      );
      setError(null);
    } catch (e) {
      setTried(null);
      setError(e);
    }
  };
  return { tried, error, attempt, forget: () => setTried(null) };
}

function Result({ tried, unit }: { tried: CableTried | null; unit: string }) {
  if (!tried) return null;
  return (
    <p className="tried" role="status">
      <strong>
        {force(tried.tension_N, unit)} ± {force(2 * tried.u_N, unit)}
      </strong>{" "}
      {tried.said} <Why why={tried.why} text="Why?" />
    </p>
  );
}

function CardPanel(p: PanelProps) {
  const { aircraft } = useOutletContext<FrameContext>();
  const instruments = useInstruments(aircraft.slug);
  const gauges = instruments.data?.results.filter((i) => i.kind === "tension") ?? [];
  const [chosen, setChosen] = useState("");
  const [readings, setReadings] = useState("");
  const { tried, error, attempt, forget } = useTry(p.cables.control);
  const { write, error: refused, busy, pending } = useWrite();
  const gauge: Instrument | undefined = gauges.find((g) => String(g.id) === chosen) ?? gauges[0];
  const name = p.cables.sides.find((s) => s.side === p.side)?.name ?? p.side;
  const set = (v: string) => {
    setReadings(v);
    forget();
  };
  const keep = async () => {
    const body = {
      side: p.side,
      method: "card",
      temperature: p.temperature,
      instrument: gauge?.id ?? null,
      typed: { readings },
    };
    if (await write(`controls/${p.cables.control}/cables/readings`, body, `${name} ${readings}`)) {
      setReadings(unless(readings, ""));
      forget();
    }
  };
  if (!gauge)
    return (
      <>
        <p>
          Add your tension gauge under Controls, Instruments (it measures tension), then its card.
        </p>
      </>
    );
  return (
    <>
      <Entry save={keep} button="Keep it" off={busy || pending || !readings.trim()}>
        {gauges.length > 1 && (
          <Choice
            label="Gauge"
            value={String(gauge.id)}
            set={setChosen}
            options={gauges.map((g) => ({ value: String(g.id), word: g.name }))}
          />
        )}
        <TextField label="Readings, divisions" value={readings} set={set} hint="24.5; 25.5; 24" />
        {gauge.live && (
          <LiveCapture
            key={p.side}
            slug={aircraft.slug}
            instrument={gauge}
            surface={p.cables.control}
            position={p.side}
            word="Read the gauge"
            unit=""
            take={(v) => set(readings ? `${readings}; ${v}` : v)}
          />
        )}
        <Button
          type="button"
          variant="outline-primary"
          disabled={!readings.trim()}
          onClick={() => void attempt(p.side, "card", { readings }, gauge.id)}
        >
          Convert
        </Button>
      </Entry>
      <p className="quiet">
        On a clear length of cable, pedals or stick at neutral, three readings. {gauge.name}, ±
        {gauge.accuracy_typed} divisions
        {gauge.calibration_due &&
          `, calibration ${gauge.overdue ? "was" : "is"} due ${gauge.calibration_due}`}
        .
      </p>
      <Result tried={tried} unit={p.unit} />
      <Said error={error ?? refused} />
      <CardForm gauge={gauge} />
    </>
  );
}

const PULLED = [
  ["span", "Span between supports", "1200 mm"],
  ["force", "Pull at its middle", "1.5 lb"],
  ["deflection", "It moves sideways by", "12.3 mm"],
  ["u_deflection", "You read that to ±", "0.5 mm"],
] as const;

function PullPanel(p: PanelProps) {
  const [v, setV] = useState({
    span: "",
    force: "",
    deflection: "",
    u_deflection: "",
    levers: "free",
  });
  const { tried, error, attempt, forget } = useTry(p.cables.control);
  const { write, error: refused, busy, pending } = useWrite();
  const change = (typed: typeof v) => {
    setV(typed);
    forget();
  };
  const r = tried?.result as Record<string, number> | undefined;
  const keep = async () => {
    const body = { side: p.side, method: "pull", temperature: p.temperature, typed: v };
    if (await write(`controls/${p.cables.control}/cables/readings`, body, `Pull ${v.force}`)) {
      setV(unless(v, { ...v, force: "", deflection: "" }));
      forget();
    }
  };
  const full = v.span && v.force && v.deflection;
  return (
    <>
      <Span
        span={v.span}
        force={v.force}
        deflection={v.deflection}
        share={r ? (r.stretch_share ?? 0) : null}
      />
      <Entry save={keep} button="Keep it" off={busy || pending || !full}>
        <Fields of={PULLED} values={v} set={change} />
        <Choice
          label="Levers"
          value={v.levers}
          set={(levers) => change({ ...v, levers })}
          options={[
            { value: "free", word: "one is free" },
            { value: "pinned", word: "both pinned" },
          ]}
        />
        <Button
          type="button"
          variant="outline-primary"
          disabled={!full}
          onClick={() => void attempt(p.side, "pull", v, null)}
        >
          Work it out
        </Button>
      </Entry>
      <Result tried={tried} unit={p.unit} />
      {r && (
        <p className="quiet">
          Under the pull {force(r.tension_under_pull_N, p.unit)}; the small-angle formula alone says{" "}
          {force(r.small_angle_N, p.unit)}.
        </p>
      )}
      <Said error={error ?? refused} />
    </>
  );
}

/** The span as pulled; drawn far too steep, so that it can be seen. */
function Span(p: { span: string; force: string; deflection: string; share: number | null }) {
  const deep = p.deflection ? 44 : 20;
  return (
    <svg className="span-figure" viewBox="0 0 560 120" role="img" aria-label="The span as pulled">
      <path className="span-rest" d="M30 34H530" />
      <path className="span-pulled" d={`M30 34L280 ${34 + deep}L530 34`} />
      <path className="span-support" d="M22 26h16v16h-16zM522 26h16v16h-16z" />
      <path className="span-arrow" d={`M280 ${34 + deep}V112m-6-9l6 9l6-9`} />
      <text x="280" y="20" textAnchor="middle">
        span {p.span || "…"}
      </text>
      <text x="296" y={deep / 2 + 38}>
        {p.deflection || "sideways"}
      </text>
      <text x="292" y="110">
        {p.force || "pull"}
      </text>
      <text x="530" y="110" textAnchor="end" className="axis-name">
        not to scale
        {p.share !== null && `; the pull adds ${(p.share * 100).toFixed(0)} %`}
      </text>
    </svg>
  );
}

function StraightPanel(p: PanelProps) {
  const { aircraft } = useOutletContext<FrameContext>();
  const instruments = useInstruments(aircraft.slug);
  const live = instruments.data?.results.filter((i) => i.kind === "angle" && i.live) ?? [];
  const [chosen, setChosen] = useState("");
  // A level cannot lie on a surface that turns about an upright axis: a protractor first.
  const first = live.find((i) => /protractor/i.test(i.name)) ?? live[0];
  const gauge = live.find((i) => String(i.id) === chosen) ?? first;
  const [angle, setAngle] = useState("");
  const { write, error, busy, pending } = useWrite();
  const keep = async () => {
    const typed = { angle, accuracy: gauge?.accuracy_typed ?? "" };
    const body = { side: "", method: "straight", temperature: "", typed };
    if (await write(`controls/${p.cables.control}/cables/readings`, body, `Stands ${angle}`))
      setAngle(unless(angle, ""));
  };
  return (
    <Entry save={keep} error={error}>
      <TextField
        label="The surface stands at, + the way it counts positive"
        value={angle}
        set={setAngle}
        hint="-0.8°"
      />
      {gauge && live.length > 1 && (
        <Choice
          label="Measured with"
          value={String(gauge.id)}
          set={setChosen}
          options={live.map((i) => ({ value: String(i.id), word: i.name }))}
        />
      )}
      {gauge && (
        <LiveCapture
          key={gauge.id}
          slug={aircraft.slug}
          instrument={gauge}
          surface={p.cables.control}
          position="straight"
          word="Read it live"
          take={setAngle}
        />
      )}
      <Button type="submit" disabled={busy || pending || !angle.trim()}>
        Keep it
      </Button>
      <p className="quiet form-name">
        Against its fixed surface, with the driver pinned at neutral. The turns then keep it
        straight.
      </p>
    </Entry>
  );
}
