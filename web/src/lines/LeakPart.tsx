/** Testing a line for leaks: what was read, what it shows, how long it must last. */
import { useEffect, useRef, useState } from "react";
import { useOutletContext } from "react-router";
import Button from "react-bootstrap/Button";

import { api, got, type Leak, type Line, type Verdict } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { useWrite } from "../app/useWrite";
import { Entry } from "../kit/Entry";
import { Fields } from "../kit/fields";
import { Caution, Said } from "../marks/Said";
import { VerdictMark } from "../marks/VerdictMark";
import { Why } from "../marks/Why";
import { LeakGauge } from "./figures/Columns";
import { LeakLive } from "./LeakLive";
import { capital, when } from "../marks/words";
import { unless } from "../kit/unless";

const EMPTY = {
  volume: "",
  max_test: "",
  start_gauge: "",
  end_gauge: "",
  start_temperature: "",
  end_temperature: "",
  start_barometer: "",
  end_barometer: "",
  minutes: "",
  allowed: "",
  source: "",
  u_gauge: "",
  u_temperature: "",
  u_barometer: "",
  u_volume: "",
};

const READ = [
  ["volume", "Air space of tank and line", "52 l"],
  ["max_test", "The most it endures, from its maker", "3.4 kPa"],
  ["start_gauge", "Gauge at the start", "2.45 kPa"],
  ["end_gauge", "Gauge at the end", "2.21 kPa"],
  ["start_temperature", "Air in it at the start", "21.5 C"],
  ["end_temperature", "Air in it at the end", "20.9 C"],
  ["start_barometer", "Station pressure at the start", "1011.2 hPa"],
  ["end_barometer", "Station pressure at the end", "1011.5 hPa"],
  ["minutes", "Minutes from start to end", "60"],
  ["allowed", "Allowed, ml of air a minute", "1.2 ml"],
  ["source", "Where test pressure and limit stand", "Manual ch. 28, page 4"],
] as const;

const SURE = [
  ["u_gauge", "Gauge known to ± (standard)", "0.005 kPa"],
  ["u_temperature", "Temperature, K", "0.05"],
  ["u_barometer", "Barometer", "0.05 hPa"],
  ["u_volume", "Air space, % of it", "3"],
] as const;

export function LeakPart({ line, may }: { line: Line; may: boolean }) {
  const { aircraft } = useOutletContext<FrameContext>();
  const { write, error, busy } = useWrite();
  const [v, setV] = useState(EMPTY);
  const [live, setLive] = useState(false);
  const [series, setSeries] = useState<number[][]>([]);
  const [tried, setTried] = useState<Leak | null>(null);
  const [wrong, setWrong] = useState<unknown>(null);
  const set = (next: typeof EMPTY) => {
    setV(next);
    setTried(null);
  };
  const work = () =>
    got(
      api.POST("/api/aircraft/{slug}/leak-trial", {
        params: { path: { slug: aircraft.slug } },
        body: { ...v, note: "" },
      }),
    ).then(
      (found) => {
        setTried(found);
        setWrong(null);
      },
      (e: unknown) => {
        setTried(null);
        setWrong(e);
      },
    );
  // What is read live is worked out as it comes, once there is enough to work it out from.
  const fromLive = useRef(false);
  const again = useRef(work);
  useEffect(() => {
    again.current = work;
  });
  useEffect(() => {
    if (!fromLive.current) return;
    fromLive.current = false;
    if (v.volume && v.max_test) void again.current();
  }, [v]);
  const keep = async () => {
    const body = { ...v, note: "", series };
    if (await write(`lines/${line.slug}/leak-tests`, body, `leak test, ${line.name}`)) {
      setV(unless(v, EMPTY));
      setTried(null);
      setSeries(unless(series, []));
    }
  };
  const open = () => void write(`lines/${line.slug}/opened`, { note: "" }, `${line.name} opened`);
  const last = line.done.find((d) => d.stands);
  return (
    <section aria-label="Leak test">
      <h2>Leak test</h2>
      {may && (
        <details>
          <summary>Test it</summary>
          <Caution>
            Never shop air on a tank: hand pump or balloon, with an open water column of the highest
            allowed height as relief; no oxygen. A tank that held fuel holds an explosive vapour:
            purge, ventilate, no lamps or sparks; out of the sun. Disconnect instruments first.
          </Caution>
          <LeakLive
            take={(read, all) => {
              fromLive.current = true;
              setSeries(all);
              setV((was) => ({ ...was, ...read }));
            }}
            noLeak={tried?.no_leak_end_kPa ?? null}
            on={live}
            setOn={setLive}
          >
            {tried && <Shown leak={tried} />}
          </LeakLive>
          <Entry label="Leak test" save={keep} error={error ?? wrong}>
            <Fields of={READ} values={v} set={set} />
            <Fields of={SURE} values={v} set={set} />
            <div className="buttons form-name">
              <Button variant="outline-primary" onClick={() => void work()}>
                Work it out
              </Button>
              <Button type="submit" disabled={busy}>
                Keep this test
              </Button>
            </div>
          </Entry>
          {tried && !live && <Shown leak={tried} />}
        </details>
      )}
      {may && last?.doing === "leak test" && (
        <p>
          <Button variant="outline-primary" disabled={busy} onClick={open}>
            It was opened
          </Button>
        </p>
      )}
      <ul className="happened">
        {line.done.map((d) => (
          <li key={d.id} className={d.stands ? "" : "undone"}>
            <strong>{capital(d.doing)}</strong> {d.said}
            {!d.stands && d.doing !== "undone" && " (taken back)"}
            {d.series.length > 1 && <AsRead series={d.series} />}
            <p className="quiet">
              {d.by}, {when(d.at)}{" "}
              {may && d === last && (
                <button
                  type="button"
                  className="plain"
                  onClick={() =>
                    void write(`lines/${line.slug}/events/${d.id}/undo`, {}, `undo ${d.doing}`)
                  }
                >
                  Take back
                </button>
              )}
            </p>
          </li>
        ))}
      </ul>
      {line.done.length === 0 && <p className="quiet">Nothing was done to it yet.</p>}
      {!may && <Said error={error} />}
    </section>
  );
}

/** What was read live, kept with its test. */
function AsRead({ series }: { series: number[][] }) {
  const gauge = series.map(([minutes = 0, kPa = 0]) => ({ minutes, kPa }));
  return (
    <details>
      <summary>As it was read, {series.length} times</summary>
      <LeakGauge
        figure={{ gauge, no_leak_kPa: gauge[0]?.kPa ?? 0 }}
        worked={{ verdict: null, checks: [], facts: [], figure: {} }}
      />
    </details>
  );
}

function Shown({ leak }: { leak: Leak }) {
  return (
    <div role="status" className="tried">
      <VerdictMark verdict={leak.verdict as Verdict} big />
      <p className="answer">
        {leak.said} <Why why={leak.why} text="Why?" />
      </p>
      <p>
        Without a leak the gauge would show {leak.no_leak_end_kPa.toFixed(3)} kPa; the gauge alone
        suggests {leak.alone_ml_min.toFixed(2)} ml a minute.
        {leak.large_drop &&
          " It fell by more than a fifth: at the start it leaked faster than this mean."}
        {leak.wait_min !== null &&
          ` To tell the allowed leak from none it must last ${leak.wait_min.toFixed(0)} minutes.`}
      </p>
    </div>
  );
}
