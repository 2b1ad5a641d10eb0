/** A loading: the point for each state in the envelope, fuel burning off, loads moved by hand. */
import { useEffect, useRef, useState } from "react";
import { useOutletContext } from "react-router";
import Button from "react-bootstrap/Button";

import { api, type CheckShown, got, type Verdict, type WeightRow } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { useWrite } from "../app/useWrite";
import { CheckList } from "../marks/CheckList";
import { Said } from "../marks/Said";
import { VerdictMark } from "../marks/VerdictMark";
import { EnvelopeChart, loaded, through } from "./EnvelopeChart";
import { drawn, type LoadingFigure, moved, type Point, shifted } from "./figures";

export type Tried = { verdict: string | null; checks: CheckShown[] };
const WORDS = { takeoff: "Take-off", landing: "Landing", zero_fuel: "No fuel" } as const;
const WAIT = 250;

/** Loads as they are moved, and what the server says of them once they rest. */
export function useMoved(row: WeightRow) {
  const { aircraft } = useOutletContext<FrameContext>();
  const [kg, setKg] = useState<Record<string, number>>({});
  const [tried, setTried] = useState<Tried | null>(null);
  const [error, setError] = useState<unknown>(null);
  const turn = useRef(0);
  const typed = withLoads(row, kg);
  const body = JSON.stringify(typed);
  const any = Object.keys(kg).length > 0;
  useEffect(() => {
    if (!any) return;
    const mine = ++turn.current;
    const timer = window.setTimeout(() => {
      got(
        api.POST("/api/aircraft/{slug}/weight/try", {
          params: { path: { slug: aircraft.slug } },
          body: { kind: "loading", row: row.slug, typed: JSON.parse(body) as never },
        }),
      ).then(
        (answer) => {
          if (mine !== turn.current) return;
          setTried(answer);
          setError(null);
        },
        (e: unknown) => {
          if (mine === turn.current) setError(e);
        },
      );
    }, WAIT);
    return () => window.clearTimeout(timer);
  }, [any, body, aircraft.slug, row.slug]);
  return {
    kg,
    tried: any ? tried : null,
    error: any ? error : null,
    typed,
    set: (name: string, value: number) => {
      setTried(null);
      setKg((k) => ({ ...k, [name]: value }));
    },
    leave: () => {
      turn.current += 1;
      setKg({});
      setTried(null);
      setError(null);
    },
  };
}

const pointOf = (w: { x_mm: number; kg: number }): Point => [w.x_mm, w.kg];
/** How well a point is known. */
const box = (s: { x_mm: number; kg: number; U_mm: number; U_kg: number }): Point[] => [
  [s.x_mm - s.U_mm, s.kg - s.U_kg],
  [s.x_mm + s.U_mm, s.kg - s.U_kg],
  [s.x_mm + s.U_mm, s.kg + s.U_kg],
  [s.x_mm - s.U_mm, s.kg + s.U_kg],
];

type Loads = { at?: string; mass?: string; u?: string }[];

/** What would be typed with these loads. */
function withLoads(row: WeightRow, kg: Record<string, number>): Record<string, unknown> {
  const loads = (Array.isArray(row.typed.loads) ? row.typed.loads : []) as Loads;
  return {
    ...row.typed,
    loads: loads.map((l) => {
      const name = Object.keys(kg).find((k) => k.toLowerCase() === (l.at ?? "").toLowerCase());
      return name === undefined ? l : { ...l, mass: `${kg[name]} kg` };
    }),
  };
}

export function LoadingChart(p: { figure: LoadingFigure; kg: Record<string, number> }) {
  const { figure: f } = p;
  const states = moved(f, p.kg);
  const track = shifted(f, p.kg);
  const still = Object.keys(p.kg).length === 0;
  const points: Point[] = [...f.way.map(pointOf), ...Object.values(states).map(pointOf)];
  return (
    <figure className="loading-chart">
      <EnvelopeChart
        label="Loading in the envelope"
        envelope={f.envelope}
        points={points}
        mac={f.mac}
      >
        {(at) => (
          <>
            {still && <path className="way" d={through(loaded(f.way.map(pointOf)), at)} />}
            {track.length > 1 && <path className="burn" d={through(track, at)} />}
            {f.way.slice(0, 1).map((w) => {
              const [x, y] = at(pointOf(w));
              return (
                <g key="empty">
                  <circle className="empty" cx={x} cy={y} r={4} />
                  <text x={x + 8} y={y + 4}>
                    empty
                  </text>
                </g>
              );
            })}
            {Object.entries(WORDS).map(([name, word], i) => {
              const s = states[name];
              if (!s) return null;
              const [x, y] = at([s.x_mm, s.kg]);
              return (
                <g key={name} className="state">
                  <path className="sure" d={`${through(box(s), at)}Z`} />
                  <circle cx={x} cy={y} r={6 - i} />
                  <text x={x - 10} y={y + (i === 1 ? -6 : 5 + i * 4)} textAnchor="end">
                    {word}
                  </text>
                </g>
              );
            })}
            {still &&
              f.crossings.map((c) => {
                const [x, y] = at(pointOf(c));
                return (
                  <g key={c.kg} className="crossing">
                    <path d={`M${x - 7} ${y}h14M${x} ${y - 7}v14`} />
                  </g>
                );
              })}
          </>
        )}
      </EnvelopeChart>
      <figcaption className="quiet">
        Round marks: the aircraft, with a box for how well it is known. Line: the balance while fuel
        burns; a cross where it leaves or enters. Thin line: load by load from empty.
      </figcaption>
    </figure>
  );
}

export function Loads(p: {
  row: WeightRow;
  figure: LoadingFigure;
  now: ReturnType<typeof useMoved>;
  may: boolean;
}) {
  const { write, error, busy } = useWrite();
  const { row, now } = p;
  const any = Object.keys(now.kg).length > 0;
  const keep = async () => {
    const body = {
      kind: "loading" as const,
      name: row.name,
      typed: now.typed as never,
      source: row.source,
      page: row.page,
      reason: "",
      version: row.version,
    };
    if (await write(`weight/rows/${row.slug}`, body, row.name, "PATCH")) now.leave();
  };
  return (
    <section aria-label="Loads">
      <h2>Move a load</h2>
      <div className="load-sliders">
        {p.figure.loads.map((l) => {
          const value = now.kg[l.name] ?? l.kg;
          const most = Math.max(l.max ?? 0, l.kg * 1.5, 20);
          return (
            <label key={l.name}>
              <span>
                {l.name}
                {l.max !== null && <span className="quiet"> at most {l.max.toFixed(0)} kg</span>}
              </span>
              <input
                type="range"
                min={0}
                max={Math.ceil(most)}
                step={0.5}
                value={value}
                onChange={(e) => now.set(l.name, Number(e.target.value))}
              />
              <output className="num">{value.toFixed(1)} kg</output>
            </label>
          );
        })}
      </div>
      {any && (
        <div className="what-if" aria-label="With these loads" role="group">
          {now.tried?.verdict && (
            <p className="verdict-line">
              <VerdictMark verdict={now.tried.verdict as Verdict} big />
            </p>
          )}
          {now.tried ? <CheckList checks={now.tried.checks} all /> : <p>Working it out…</p>}
          <div className="buttons">
            {p.may && (
              <Button disabled={busy || !now.tried} onClick={() => void keep()}>
                Keep these loads
              </Button>
            )}
            <button type="button" className="plain" onClick={now.leave}>
              As it was
            </button>
          </div>
          <Said error={error ?? now.error} />
        </div>
      )}
    </section>
  );
}

export const figureOf = (row: WeightRow | undefined) => drawn<LoadingFigure>(row);
