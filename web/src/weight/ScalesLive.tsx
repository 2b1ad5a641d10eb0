/** All scales of a weighing read live, side by side: taken together once each has settled. */
import { useEffect, useRef, useState } from "react";
import { useOutletContext } from "react-router";
import Button from "react-bootstrap/Button";

import { api, got, type Instrument, newKey, type WeightRow } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { useInstruments } from "../app/queries";
import { readLive } from "../app/readLive";
import { useWrite } from "../app/useWrite";
import { Said } from "../marks/Said";
import { addressOf } from "../marks/words";
import type { WheelDrawn } from "./figures";

type Series = Record<string, { t: number[]; kg: number[] }>;
type Settling = { wheel: string; settled: boolean; reason: string; kg: number | null };

const PAUSE = 120;
/** Of each scale at most: longer than any window. */
const KEPT = 400;
const WORDS: Record<string, string> = {
  short: "settling",
  few: "settling",
  gap: "the line was lost, settling anew",
  noise: "swings",
  drift: "drifts",
};

export function ScalesLive(p: { row: WeightRow; wheels: WheelDrawn[] }) {
  const { aircraft } = useOutletContext<FrameContext>();
  const { write, error: refused, busy } = useWrite();
  const all = useInstruments(aircraft.slug).data?.results ?? [];
  const live = new Map<string, Instrument>();
  for (const w of p.wheels) {
    const found = all.find(
      (i) => i.kind === "mass" && i.live && i.name.toLowerCase() === w.scale.toLowerCase(),
    );
    if (found) live.set(w.wheel, found);
  }
  const [on, setOn] = useState(false);
  const [now, setNow] = useState<Record<string, number | null>>({});
  const [settling, setSettling] = useState<Settling[]>([]);
  const [error, setError] = useState<unknown>(null);
  const series = useRef<Series>({});
  const places = p.wheels.map((w) => `${w.wheel}|${live.get(w.wheel)?.id ?? 0}|${w.scale}`);
  const asked = places.join(";");
  useEffect(() => {
    if (!on) return;
    let stopped = false;
    let timer = 0;
    const began = performance.now();
    const found: Series = {};
    series.current = found;
    const runs = new Map<string, string>();
    const again = async () => {
      for (const place of asked.split(";")) {
        const [wheel = "", id = "0", scale = ""] = place.split("|");
        const run = runs.get(wheel) ?? newKey();
        runs.set(wheel, run);
        try {
          const spot = [addressOf(scale), addressOf(wheel)] as const;
          const { value } = await readLive(aircraft.slug, Number(id), run, ...spot);
          if (stopped) return;
          const one = (found[wheel] ??= { t: [], kg: [] });
          one.t = [...one.t, Number(((performance.now() - began) / 1000).toFixed(3))].slice(-KEPT);
          one.kg = [...one.kg, value].slice(-KEPT);
          setNow((n) => ({ ...n, [wheel]: value }));
          setError(null);
        } catch (e) {
          if (stopped) return;
          // What was read stays; what it showed before is not its value now.
          setNow((n) => ({ ...n, [wheel]: null }));
          setError(e);
        }
      }
      const enough = Object.values(found).every((s) => s.t.length > 1);
      if (enough && Object.keys(found).length > 0)
        try {
          const said = await got(
            api.POST("/api/aircraft/{slug}/weight/rows/{entry}/settling", {
              params: { path: { slug: aircraft.slug, entry: p.row.slug } },
              body: { scales: found },
            }),
          );
          if (stopped) return;
          setSettling(said);
        } catch (e) {
          if (stopped) return;
          setError(e);
        }
      if (!stopped) timer = window.setTimeout(() => void again(), PAUSE);
    };
    void again();
    return () => {
      stopped = true;
      window.clearTimeout(timer);
    };
  }, [on, asked, aircraft.slug, p.row.slug]);
  if (live.size < p.wheels.length)
    return (
      <p className="quiet">
        {live.size === 0
          ? "Scales that can be read live, entered under Instruments by the same names, would be read here together."
          : `Not read live: ${p.wheels
              .filter((w) => !live.has(w.wheel))
              .map((w) => w.scale)
              .join(", ")}.`}
      </p>
    );
  const ready =
    settling.length === p.wheels.length &&
    settling.every((s) => s.settled) &&
    !Object.values(now).includes(null);
  const take = async () => {
    const body = { scales: series.current };
    if (await write(`weight/rows/${p.row.slug}/capture`, body, `${p.row.name}: scales`))
      setOn(false);
  };
  return (
    <section aria-label="Read live" className="scales-live">
      {!on && (
        <Button
          variant="outline-primary"
          onClick={() => {
            setNow({});
            setSettling([]);
            setOn(true);
          }}
        >
          Read all scales live
        </Button>
      )}
      {on && (
        <>
          <table className="asked">
            <tbody>
              {p.wheels.map((w) => {
                const s = settling.find((x) => x.wheel === w.wheel);
                const value = now[w.wheel];
                return (
                  <tr key={w.wheel}>
                    <th scope="row">
                      {w.wheel}, {w.scale}
                    </th>
                    <td className="num level-value">
                      {typeof value === "number" ? `${value.toFixed(2)} kg` : "…"}
                    </td>
                    <td className={s?.settled ? "settled" : "quiet"}>
                      {value === null
                        ? "does not answer"
                        : s?.settled
                          ? `settled at ${s.kg?.toFixed(2)} kg`
                          : (WORDS[s?.reason ?? "short"] ?? "settling")}
                    </td>
                  </tr>
                );
              })}
            </tbody>
          </table>
          <div className="buttons">
            <Button disabled={!ready || busy} onClick={() => void take()}>
              Take all
            </Button>
            <button type="button" className="plain" onClick={() => setOn(false)}>
              Stop
            </button>
          </div>
        </>
      )}
      <Said error={refused ?? error} />
    </section>
  );
}
