/** Bays as boxes on the airframe, in side and top view; edges are dragged or moved by arrow keys. */
import { type CSSProperties, type KeyboardEvent, type PointerEvent, useRef, useState } from "react";

import type { Aircraft, Bay } from "../app/api";
import type { Point } from "./profile";

export type Limits = {
  x0: number;
  x1: number;
  y0: number;
  y1: number;
  z0: number;
  z1: number;
};
export type Edge = keyof Limits;

/** A bay's limits in whole millimetres. */
export const limitsOf = (b: Bay): Limits => {
  const mm = (m: number | undefined) => Math.round((m ?? 0) * 1000);
  return {
    x0: mm(b.x_m[0]),
    x1: mm(b.x_m[1]),
    y0: mm(b.y_m[0]),
    y1: mm(b.y_m[1]),
    z0: mm(b.z_m[0]),
    z1: mm(b.z_m[1]),
  };
};

/** Boxes that share a volume, as drawn while an edge moves; the server says so for good. */
export const share = (a: Limits, b: Limits): boolean =>
  (["x", "y", "z"] as const).every(
    (k) => Math.min(a[`${k}1`], b[`${k}1`]) - Math.max(a[`${k}0`], b[`${k}0`]) > 0,
  );

type Props = {
  aircraft: Aircraft;
  chosen: string;
  pick: (slug: string) => void;
  /** The chosen bay as it is being changed, mm. */
  draft: Limits | null;
  move: (edge: Edge, to: number) => void;
  /** The edge has come to rest: keep it. */
  rest: () => void;
  locked: boolean;
};

const PAD = 60;
const NAMES: Record<Edge, string> = {
  x0: "front",
  x1: "rear",
  y0: "left",
  y1: "right",
  z0: "lower",
  z1: "upper",
};

export function AirframeFigure(p: Props) {
  return (
    <div className="airframe-views">
      <View {...p} title="Side view" across="z" />
      <View {...p} title="Plan" across="y" />
    </div>
  );
}

function View(p: Props & { title: string; across: "y" | "z" }) {
  const svg = useRef<SVGSVGElement>(null);
  const [held, setHeld] = useState<Edge | null>(null);
  const lo = `${p.across}0` as Edge;
  const hi = `${p.across}1` as Edge;
  const boxes = p.aircraft.bays.map((b) => ({
    bay: b,
    at: b.slug === p.chosen && p.draft ? p.draft : limitsOf(b),
  }));
  boxes.sort((a, b) => Number(a.bay.slug === p.chosen) - Number(b.bay.slug === p.chosen));
  const outline = outlineOf(p.aircraft, p.across);
  const xs = [...boxes.flatMap((b) => [b.at.x0, b.at.x1]), ...outline.flat().map((q) => q[0])];
  const vs = [...boxes.flatMap((b) => [b.at[lo], b.at[hi]]), ...outline.flat().map((q) => q[1])];
  const [x0, x1, v0, v1] = [
    Math.min(...xs) - PAD,
    Math.max(...xs) + PAD,
    Math.min(...vs) - PAD,
    Math.max(...vs) + PAD,
  ];
  // Up is water line up; in the top view right is drawn downwards, nose to the left.
  const V = (v: number) => (p.across === "z" ? v1 - v : v - v0);
  const X = (x: number) => x - x0;
  const mine = boxes.find((b) => b.bay.slug === p.chosen);
  const clash = new Set(
    mine ? boxes.filter((b) => b !== mine && share(b.at, mine.at)).map((b) => b.bay.slug) : [],
  );
  const onMove = (e: PointerEvent) => {
    if (!held || !svg.current) return;
    const matrix = svg.current.getScreenCTM();
    if (!matrix) return;
    const at = new DOMPoint(e.clientX, e.clientY).matrixTransform(matrix.inverse());
    const value = held.startsWith("x") ? at.x + x0 : p.across === "z" ? v1 - at.y : at.y + v0;
    p.move(held, Math.round(value));
  };
  const onKey = (edge: Edge) => (e: KeyboardEvent) => {
    if (!p.draft) return;
    const step = e.shiftKey ? 10 : 1;
    const down = p.across === "z" ? -1 : 1;
    const by: Record<string, number> = edge.startsWith("x")
      ? { ArrowLeft: -step, ArrowRight: step }
      : { ArrowUp: -down * step, ArrowDown: down * step };
    const change = by[e.key];
    if (change === undefined) return;
    e.preventDefault();
    p.move(edge, p.draft[edge] + change);
  };
  // User units in one pixel, so that lines and letters are as thick in both views.
  const unit = Math.max((x1 - x0) / 730, (v1 - v0) / (p.across === "z" ? 300 : 520));
  const d = p.draft;
  const edges: Edge[] = ["x0", "x1", lo, hi];
  return (
    <figure>
      <figcaption>
        {p.title}{" "}
        <span className="quiet">
          {p.across === "z" ? "water line up" : "right wing down, as seen from below"}, mm
        </span>
      </figcaption>
      <svg
        ref={svg}
        viewBox={`0 0 ${x1 - x0} ${v1 - v0}`}
        style={{ "--unit": `${unit}px` } as CSSProperties}
        role="group"
        aria-label={p.title}
        onPointerMove={onMove}
        onPointerUp={() => {
          if (held) p.rest();
          setHeld(null);
        }}
      >
        {outline.map((line, i) => (
          <polyline
            key={i}
            className="airframe-outline"
            points={line.map(([x, v]) => `${X(x)},${V(v)}`).join(" ")}
          />
        ))}
        {boxes.map(({ bay, at }) => {
          const top = Math.min(V(at[lo]), V(at[hi]));
          const cls = [
            "box",
            bay.slug === p.chosen ? "box-chosen" : "",
            clash.has(bay.slug) ? "box-clash" : "",
          ].join(" ");
          return (
            <g key={bay.slug} className={cls} onClick={() => p.pick(bay.slug)}>
              <rect
                x={X(at.x0)}
                y={top}
                width={Math.max(1, at.x1 - at.x0)}
                height={Math.max(1, Math.abs(at[hi] - at[lo]))}
              />
              {named(bay, at, p, unit) && (
                <text x={X((at.x0 + at.x1) / 2)} y={V((at[lo] + at[hi]) / 2) + 4 * unit}>
                  {bay.name.replace(/^(Left|Right) wing /, "")}
                </text>
              )}
            </g>
          );
        })}
        {d &&
          !p.locked &&
          edges.map((edge) => (
            <Handle
              key={edge}
              at={handleAt(d, edge, lo, hi, X, V)}
              unit={unit}
              upright={edge.startsWith("x")}
              label={`${NAMES[edge]} edge, ${d[edge]} mm`}
              grab={(e) => {
                e.currentTarget.setPointerCapture(e.pointerId);
                setHeld(edge);
              }}
              onMove={onMove}
              drop={() => {
                if (held) p.rest();
                setHeld(null);
              }}
              onKey={onKey(edge)}
              onRest={p.rest}
            />
          ))}
      </svg>
    </figure>
  );
}

/** Whether a bay's name has room in its box; wings are seen from the tip in the side view. */
function named(bay: Bay, at: Limits, p: { across: string; chosen: string }, unit: number) {
  if (bay.slug === p.chosen) return true;
  if (p.across === "z" && /wing|tail/.test(bay.part)) return false;
  return at.x1 - at.x0 > bay.name.replace(/^(Left|Right) wing /, "").length * 6.4 * unit;
}

function handleAt(
  d: Limits,
  edge: Edge,
  lo: Edge,
  hi: Edge,
  X: (x: number) => number,
  V: (v: number) => number,
): [number, number, number, number] {
  const [top, low] = [Math.min(V(d[lo]), V(d[hi])), Math.max(V(d[lo]), V(d[hi]))];
  if (edge.startsWith("x")) return [X(d[edge]), top, X(d[edge]), low];
  return [X(d.x0), V(d[edge]), X(d.x1), V(d[edge])];
}

function Handle(p: {
  at: [number, number, number, number];
  unit: number;
  upright: boolean;
  label: string;
  grab: (e: PointerEvent<SVGGElement>) => void;
  onMove: (e: PointerEvent) => void;
  drop: () => void;
  onKey: (e: KeyboardEvent) => void;
  onRest: () => void;
}) {
  const [x0, y0, x1, y1] = p.at;
  return (
    <g
      className={p.upright ? "edge edge-upright" : "edge"}
      role="slider"
      tabIndex={0}
      aria-label={p.label}
      aria-valuetext={p.label}
      aria-valuenow={0}
      onPointerDown={p.grab}
      onPointerMove={p.onMove}
      onPointerUp={p.drop}
      onKeyDown={p.onKey}
      onKeyUp={(e) => e.key.startsWith("Arrow") && p.onRest()}
    >
      <line className="edge-wide" x1={x0} y1={y0} x2={x1} y2={y1} />
      <line className="edge-line" x1={x0} y1={y0} x2={x1} y2={y1} />
      <rect
        x={(x0 + x1) / 2 - p.unit * 6}
        y={(y0 + y1) / 2 - p.unit * 6}
        width={p.unit * 12}
        height={p.unit * 12}
        className="edge-grip"
      />
    </g>
  );
}

function outlineOf(aircraft: Aircraft, across: "y" | "z"): Point[][] {
  const o = aircraft.outline;
  const mm = (line: number[][]): Point[] =>
    line.map((q) => [(q[0] ?? 0) * 1000, (q[1] ?? 0) * 1000]);
  if (across === "z") {
    const around = [...mm(o.top), ...mm(o.bottom).toReversed()];
    return [[...around, ...around.slice(0, 1)], mm(o.fin)].filter((l) => l.length > 1);
  }
  const right = mm(o.plan);
  const left = right.map(([x, y]): Point => [x, -y]);
  return right.length > 1 ? [[...right, ...left.toReversed(), ...right.slice(0, 1)]] : [];
}
