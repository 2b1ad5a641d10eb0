/** A leak test read live: gauge, thermometer and barometer again and again, plotted as it comes. */
import { useEffect, useRef, useState } from "react";
import { useOutletContext } from "react-router";
import Button from "react-bootstrap/Button";

import { type Instrument, newKey } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { useInstruments } from "../app/queries";
import { readLive } from "../app/readLive";
import { Choice } from "../kit/fields";
import { Said } from "../marks/Said";
import { LeakGauge } from "./figures/Columns";

type Read = { minutes: number; gauge: number; celsius: number; outside: number };
/** What of the form is read. */
export type LiveTyped = Record<
  | "start_gauge"
  | "end_gauge"
  | "start_temperature"
  | "end_temperature"
  | "start_barometer"
  | "end_barometer"
  | "minutes"
  | "u_gauge"
  | "u_temperature"
  | "u_barometer",
  string
>;

const PAUSE = 2500;

export function LeakLive(p: {
  take: (typed: LiveTyped, series: number[][]) => void;
  noLeak: number | null;
  on: boolean;
  setOn: (on: boolean) => void;
  /** What is made of it so far. */
  children: React.ReactNode;
}) {
  const { aircraft } = useOutletContext<FrameContext>();
  const all = useInstruments(aircraft.slug).data?.results.filter((i) => i.live) ?? [];
  const [pressures, warm] = [
    all.filter((i) => i.kind === "pressure"),
    all.filter((i) => i.kind === "temperature"),
  ];
  const [chosen, setChosen] = useState<string[]>([]);
  const { on, setOn } = p;
  const [reads, setReads] = useState<Read[]>([]);
  const [error, setError] = useState<unknown>(null);
  const take = useRef(p.take);
  useEffect(() => {
    take.current = p.take;
  });
  const of = (list: Instrument[], n: number, nth: number) =>
    list.find((i) => String(i.id) === chosen[n]) ?? list[nth];
  const [gauge, thermometer, barometer] = [
    of(pressures, 0, 0),
    of(warm, 1, 0),
    of(pressures, 2, 1),
  ];
  const ids = [gauge?.id, thermometer?.id, barometer?.id];
  const known = useRef({ gauge, thermometer, barometer });
  useEffect(() => {
    known.current = { gauge, thermometer, barometer };
  });
  const asked = ids.join(" ");
  useEffect(() => {
    if (!on) return;
    let stopped = false;
    let timer = 0;
    const began = Date.now();
    const found: Read[] = [];
    const run = newKey();
    const ask = async (id: number) => (await readLive(aircraft.slug, id, run)).value;
    const again = async () => {
      const [a = 0, b = 0, c = 0] = asked.split(" ").map(Number);
      try {
        const now = {
          gauge: await ask(a),
          celsius: await ask(b),
          outside: await ask(c),
          minutes: (Date.now() - began) / 60000,
        };
        if (stopped) return;
        found.push(now);
        setReads([...found]);
        setError(null);
        const { gauge: g, thermometer: t, barometer: o } = known.current;
        const [first] = found;
        if (first && g && t && o && found.length > 1)
          take.current(typed(first, now, g, t, o), found.map(moment));
      } catch (e) {
        if (stopped) return;
        // One that does not answer now may answer the next time; what was read stays.
        setError(e);
      }
      timer = window.setTimeout(() => void again(), PAUSE);
    };
    void again();
    return () => {
      stopped = true;
      window.clearTimeout(timer);
    };
  }, [on, asked, aircraft.slug]);
  if (!gauge || !thermometer || !barometer)
    return (
      <p className="quiet">
        Two pressure instruments and a thermometer that can be read live would fill this in by
        themselves: enter them under Instruments.
      </p>
    );
  const pick = (n: number, label: string, list: Instrument[], is: Instrument) => (
    <Choice
      label={label}
      value={String(is.id)}
      set={(id) => setChosen((c) => [0, 1, 2].map((k) => (k === n ? id : (c[k] ?? ""))))}
      options={list.map((i) => ({ value: String(i.id), word: i.name }))}
    />
  );
  return (
    <section aria-label="Read live" className="leak-live">
      {!on && (
        <div className="inline-form">
          {pick(0, "Gauge", pressures, gauge)}
          {pick(1, "Thermometer", warm, thermometer)}
          {pick(2, "Barometer", pressures, barometer)}
          <Button
            variant="outline-primary"
            onClick={() => {
              setReads([]);
              setOn(true);
            }}
          >
            Begin, read live
          </Button>
        </div>
      )}
      {on && (
        <p>
          <Button variant="outline-primary" onClick={() => setOn(false)}>
            End here
          </Button>{" "}
          Reading {gauge.name}, {thermometer.name} and {barometer.name}; the form below follows.
        </p>
      )}
      <Said error={error} />
      {on && p.children}
      {reads.length > 1 && (
        <LeakGauge
          figure={{
            gauge: reads.map((r) => ({ minutes: r.minutes, kPa: r.gauge })),
            no_leak_kPa: p.noLeak ?? (reads[0]?.gauge as number),
          }}
          worked={{ verdict: null, checks: [], facts: [], figure: {} }}
        />
      )}
    </section>
  );
}

/** As the server keeps it: minutes, kPa, °C, kPa. */
const moment = (r: Read) =>
  [r.minutes, r.gauge, r.celsius, r.outside].map((x) => Number(x.toFixed(4)));

/** What was read first and last, as a person would type it. */
function typed(
  first: Read,
  now: Read,
  gauge: Instrument,
  thermometer: Instrument,
  barometer: Instrument,
): LiveTyped {
  return {
    start_gauge: `${first.gauge.toFixed(3)} kPa`,
    end_gauge: `${now.gauge.toFixed(3)} kPa`,
    start_temperature: `${first.celsius.toFixed(2)} C`,
    end_temperature: `${now.celsius.toFixed(2)} C`,
    start_barometer: `${first.outside.toFixed(3)} kPa`,
    end_barometer: `${now.outside.toFixed(3)} kPa`,
    minutes: now.minutes.toFixed(2),
    u_gauge: `${gauge.u.toPrecision(3)} kPa`,
    u_temperature: thermometer.u.toPrecision(3),
    u_barometer: `${barometer.u.toPrecision(3)} kPa`,
  };
}
