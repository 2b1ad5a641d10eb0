/** Both cables from the side and from above, in true proportion, with what moves along them. */
import { useRef, useState } from "react";

import type { Aircraft, CableLoop } from "../app/api";
import { marks } from "../kit/plot";
import { MarkAt } from "../marks/VerdictMark";
import { atStation, nowAt, type P3, stretch } from "./route";
import type { CablesFile, SupportFile } from "./useCableTrial";

export type RouteView = "side" | "top";
type Props = {
  aircraft: Aircraft;
  file: CablesFile;
  solved: CableLoop;
  deg: number;
  /** The middle and width of what is looked at, m; null: all. */
  zoom: { at: number; width: number } | null;
  chosen: string | null;
  choose: (key: string) => void;
  /** A support put somewhere else, or a click on a cable's station. */
  move?: (side: string, id: string, to: P3) => void;
  place?: (side: string, at: P3) => void;
};

const W = 1000;
const PAD = 46;

export function RouteFigure(p: Props) {
  // What comes too near is shown larger by itself.
  const bad = p.zoom ? undefined : p.solved.fittings.find((f) => OPEN.includes(f.verdict));
  // Looked at closely, one cable is enough.
  const one = p.zoom && p.chosen ? { detail: p.chosen.slice(0, 1) } : {};
  return (
    <div className="route-views">
      <One {...p} {...one} view="side" />
      <One {...p} {...one} view="top" />
      {bad && (
        <One
          {...p}
          view="side"
          detail={bad.side}
          zoom={{ at: (bad.low_m + bad.high_m) / 2 + 0.08, width: 0.55 }}
        />
      )}
    </div>
  );
}

const OPEN = ["out", "too close"];

function One(p: Props & { view: RouteView; detail?: string }) {
  const svg = useRef<SVGSVGElement>(null);
  const [drag, setDrag] = useState<{ side: string; id: string; to: P3 } | null>(null);
  const now = nowAt(p.solved, p.deg);
  if (!now) return null;
  const ways = Object.entries(now.ways).filter(([side]) => !p.detail || side === p.detail);
  const up = (q: number[]): number => (p.view === "side" ? (q[2] ?? 0) : (q[1] ?? 0));
  const all = [...Object.values(now.ways).flat(), p.file.driver.pivot, p.file.driven.pivot];
  const xs = all.map((q) => q[0] ?? 0);
  const x0 = p.zoom ? p.zoom.at - p.zoom.width / 2 : Math.min(...xs) - 0.06;
  const x1 = p.zoom ? p.zoom.at + p.zoom.width / 2 : Math.max(...xs) + 0.06;
  const seen = p.zoom
    ? Object.values(now.ways).flatMap((w) => stretch(w, Math.max(x0, w[0]?.[0] ?? x0), x1))
    : all;
  const us = seen.map(up);
  const scale = (W - 2 * PAD) / (x1 - x0);
  const room = (p.detail ? 80 : 56) / scale;
  const [u0, u1] = [Math.min(...us) - room, Math.max(...us) + room];
  const H = Math.max(96, (u1 - u0) * scale) + 26;
  const px = (x: number) => PAD + (x - x0) * scale;
  const py = (u: number) => H - 26 - (u - u0) * scale;
  const at = (q: number[]): [number, number] => [px(q[0] ?? 0), py(up(q))];
  const path = (points: number[][]) =>
    points
      .map(
        (q, i) =>
          `${i ? "L" : "M"}${at(q)
            .map((v) => v.toFixed(1))
            .join(" ")}`,
      )
      .join("");
  const pointed = (e: React.PointerEvent | React.MouseEvent): [number, number] => {
    const box = svg.current?.getBoundingClientRect();
    if (!box) return [0, 0];
    const k = W / box.width;
    return [
      x0 + ((e.clientX - box.left) * k - PAD) / scale,
      u0 + (H - 26 - (e.clientY - box.top) * k) / scale,
    ];
  };
  const shownSupports = Object.entries(p.file.sides).flatMap(([side, s]) =>
    p.detail && side !== p.detail ? [] : (s.supports ?? []).map((support) => ({ side, support })),
  );
  const bays = p.aircraft.bays.filter((b) => b.part === "fuselage");
  return (
    <svg
      ref={svg}
      className="route"
      viewBox={`0 0 ${W} ${H.toFixed(0)}`}
      role="img"
      aria-label={p.view === "side" ? "Cables from the side" : "Cables from above"}
      onPointerMove={(e) => {
        if (!drag) return;
        const [x, u] = pointed(e);
        const [, y, z] = drag.to;
        setDrag({ ...drag, to: p.view === "side" ? [x, y, u] : [x, u, z] });
      }}
      onPointerUp={() => {
        if (drag) p.move?.(drag.side, drag.id, drag.to.map((v) => Math.round(v * 1e4) / 1e4) as P3);
        setDrag(null);
      }}
    >
      {bays.map((b) => {
        const [low, high] = [b.x_m[0] ?? 0, b.x_m[1] ?? 0];
        if (high < x0 || low > x1) return null;
        return (
          <g key={b.slug} className="route-bay">
            {low > x0 && <path d={`M${px(low)} 4V${H - 22}`} />}
            {p.view === "side" && (Math.min(high, x1) - Math.max(low, x0)) * scale > 110 && (
              <text x={px(Math.max(low, x0)) + 5} y="20">
                {b.name}
              </text>
            )}
          </g>
        );
      })}
      {marks(x0 * 1e3, x1 * 1e3, 9).map((v) => (
        <text key={v} x={px(v / 1e3)} y={H - 6} textAnchor="middle" className="route-scale">
          {v}
        </text>
      ))}
      <text x="2" y={H - 6} className="axis-name">
        {p.view}
      </text>
      {[p.file.driver, p.file.driven].map((lever, i) => {
        const side = Object.keys(now.ways);
        const ends = side.map((s) => (i === 0 ? now.ways[s]?.[0] : now.ways[s]?.at(-1)));
        return (
          <g key={i} className="route-lever">
            {ends.map((e, k) => e && <path key={k} d={path([lever.pivot, e])} />)}
            <circle cx={at(lever.pivot)[0]} cy={at(lever.pivot)[1]} r="5" />
          </g>
        );
      })}
      {ways.map(([side, way]) => (
        <g key={side}>
          <path
            className="route-hit"
            d={path(way)}
            onClick={(e) => p.place?.(side, atStation(way, pointed(e)[0]))}
          />
          <path className={`route-cable route-${side}`} d={path(way)} />
        </g>
      ))}
      {shownSupports.map(({ side, support }) => {
        const key = `${side} ${support.id}`;
        const state = p.solved.supports.find((s) => s.side === side && s.id === support.id);
        const to = drag && drag.side === side && drag.id === support.id ? drag.to : support.centre;
        return (
          <g
            key={key}
            className={`route-support ${p.chosen === key ? "chosen" : ""}`}
            onPointerDown={(e) => {
              p.choose(key);
              if (!p.move) return;
              (e.target as Element).setPointerCapture(e.pointerId);
              setDrag({ side, id: support.id, to: support.centre as P3 });
            }}
          >
            <Shape support={support} view={p.view} at={at(to)} scale={scale} />
            {state && state.verdict !== "in" && (
              <MarkAt verdict={state.verdict} x={at(to)[0]} y={at(to)[1] - 16} size={15} />
            )}
          </g>
        );
      })}
      {p.solved.fittings.map((f) => {
        const way = now.ways[f.side];
        const rest = nowAt(p.solved, 0)?.ways[f.side];
        if (!way || !rest || (p.detail && f.side !== p.detail)) return null;
        const moved = now.moved[f.side] ?? 0;
        const ghost = (by: number) => path(stretch(rest, f.low_m + by, f.high_m + by));
        const key = `${f.side} ${f.id}`;
        const bad = f.verdict !== "in" && f.verdict !== "not measured";
        const mark = at(atStation(rest, f.high_m + f.travel_high_m));
        return (
          <g
            key={key}
            className={`route-fitting ${bad ? "route-bad" : ""}`}
            onClick={() => p.choose(key)}
          >
            <path className="route-ghost" d={ghost(f.travel_low_m)} />
            <path className="route-ghost" d={ghost(f.travel_high_m)} />
            <path
              className="route-item"
              d={path(stretch(way, f.low_m + moved, f.high_m + moved))}
            />
            {bad && (
              <>
                {p.detail && <path className="route-gap" d={gapLine(p, f, rest, at)} />}
                <MarkAt verdict={f.verdict} x={mark[0]} y={mark[1] - 22} size={18} />
                <text x={mark[0]} y={mark[1] - 36} textAnchor="middle">
                  {((f.gap_m ?? 0) * 1e3).toFixed(0)} mm
                </text>
              </>
            )}
          </g>
        );
      })}
    </svg>
  );
}

/** From where the fitting comes to the support that it comes near. */
function gapLine(
  p: Props,
  f: CableLoop["fittings"][number],
  rest: P3[],
  at: (q: number[]) => [number, number],
): string {
  const near = p.solved.supports.find((s) => s.side === f.side && s.id === f.near);
  if (!near) return "";
  const x = near.centre[0] ?? 0;
  const before = f.high_m <= x;
  const from = before ? f.high_m + f.travel_high_m : f.low_m + f.travel_low_m;
  const to = before ? x - near.half_m : x + near.half_m;
  const [a, b] = [at(atStation(rest, from)), at(atStation(rest, to))];
  return `M${a[0]} ${a[1] - 14}v28M${b[0]} ${b[1] - 14}v28M${a[0]} ${a[1]}L${b[0]} ${b[1]}`;
}

function Shape(p: { support: SupportFile; view: RouteView; at: [number, number]; scale: number }) {
  const [x, y] = p.at;
  const s = p.support;
  if (s.kind !== "pulley") {
    const half = Math.max(6, ((s.length ?? 0.02) / 2) * p.scale);
    return (
      <>
        <rect className="support-hit" x={x - 14} y={y - 14} width="28" height="28" />
        <path
          d={`M${x - half} ${y - 9}H${x + half}M${x - half} ${y + 9}H${x + half}M${x} ${y - 17}V${y - 9}M${x} ${y + 9}V${y + 17}`}
        />
      </>
    );
  }
  const r = Math.max(5, (s.radius ?? 0) * p.scale);
  const axis = s.axis ?? [0, 1, 0];
  const face = Math.abs((p.view === "side" ? axis[1] : axis[2]) ?? 0) > 0.7;
  if (face)
    return (
      <>
        <circle cx={x} cy={y} r={r} />
        <circle cx={x} cy={y} r="1.8" />
      </>
    );
  return <rect x={x - r} y={y - 4} width={2 * r} height="8" rx="1" />;
}
