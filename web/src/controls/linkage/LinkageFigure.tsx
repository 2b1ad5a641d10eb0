/** The linkage as it stands: drawn from solved positions, in true proportion, moved by hand. */
import { useMemo, useRef } from "react";

import type { Linkage, Solved, Surface } from "../../app/api";
import { plain } from "../../marks/words";
import { type At, nearest, type Point, pose, type Pose, slice } from "./motion";
import { type Flat, flatten, type View, VIEWS } from "./views";
import { marks } from "../../kit/plot";

type BodyFile = { id: string; kind?: string; axis: number[]; points?: Record<string, number[]> };

export type FigureProps = {
  linkage: Linkage;
  solved: Solved;
  at: At;
  move: (axis: string, value: number) => void;
  view: View;
  only: Set<string> | null;
  surfaces: Surface[];
  ghost: Solved | null;
  chosenRod: string | null;
  chooseRod: (rod: string) => void;
  editing?: (body: string, point: string, to: Point) => void;
};

const PAD = 70;

export function LinkageFigure(p: FigureProps) {
  const { solved, at } = p;
  const svg = useRef<SVGSVGElement>(null);
  const drag = useRef<string | null>(null);
  const bodies = useMemo(() => filesOf(p.linkage), [p.linkage]);
  const axes = useMemo(() => new Map(bodies.map((b) => [b.id, b.axis])), [bodies]);
  const flat = useMemo(() => flatten(p.view, axes), [p.view, axes]);
  const shown = (id: string) => !p.only || p.only.has(id);
  const now = pose(solved, at);
  const box = useMemo(
    () => bounds(solved, flat, p.only, p.surfaces),
    [solved, flat, p.only, p.surfaces],
  );
  const unit = Math.max(box.w / 48, box.h / 24);
  const axis = solved.axes[0]?.name ?? "";

  const pull = (e: React.PointerEvent) => {
    if (!drag.current || !svg.current) return;
    const at2 = paper(svg.current, e);
    const [body, point] = drag.current.split("/") as [string, string];
    if (p.editing) {
      const was = now.get(drag.current);
      if (was) p.editing(body, point, lifted(p.view, at2, was));
      return;
    }
    const v = nearest(solved, drag.current, axis, at, (q) => {
      const [x, y] = flat(q);
      return Math.hypot(x - at2[0], y - at2[1]);
    });
    if (v !== null) p.move(axis, v);
  };

  return (
    <svg
      ref={svg}
      className="linkage"
      viewBox={`${box.x} ${box.y} ${box.w} ${box.h}`}
      role="img"
      aria-label={spoken(solved, at)}
      style={{ fontSize: unit }}
      onPointerMove={pull}
      onPointerUp={() => (drag.current = null)}
      onPointerLeave={() => (drag.current = null)}
    >
      <Scales box={box} unit={unit} view={p.view} />
      {bodies
        .filter((b) => shown(b.id))
        .map((b) => (
          <Paths key={b.id} body={b} solved={solved} axis={axis} at={at} flat={flat} />
        ))}
      <StopLines {...p} bodies={bodies} now={now} flat={flat} unit={unit} />
      {p.ghost && (
        <g className="ghost">
          <Drawn {...p} bodies={bodies} now={pose(p.ghost, at)} flat={flat} unit={unit} ghostly />
        </g>
      )}
      <Drawn
        {...p}
        bodies={bodies}
        now={now}
        flat={flat}
        unit={unit}
        grab={(t) => (drag.current = t)}
      />
    </svg>
  );
}

function filesOf(linkage: Linkage): BodyFile[] {
  return (linkage.document as { bodies?: BodyFile[] } | null)?.bodies ?? [];
}

type DrawnProps = FigureProps & {
  bodies: BodyFile[];
  now: Pose;
  flat: Flat;
  unit: number;
  ghostly?: boolean;
  grab?: (track: string) => void;
};

function Drawn(p: DrawnProps) {
  const { now, flat, unit, solved } = p;
  const shown = (id: string) => !p.only || p.only.has(id);
  const at = (track: string) => {
    const q = now.get(track);
    return q ? flat(q) : null;
  };
  const labels = new Placer(unit);
  for (const q of now.values()) labels.block(...flat(q));
  return (
    <>
      {solved.rods
        .filter((r) => shown(r.body_a) && shown(r.body_b))
        .map((r) => {
          const a = at(`${r.body_a}/${r.a}`);
          const b = at(`${r.body_b}/${r.b}`);
          if (!a || !b) return null;
          const chosen = r.id === p.chosenRod && !p.ghostly;
          const spot = labels.place((a[0] + b[0]) / 2, (a[1] + b[1]) / 2 - unit * 0.5, plain(r.id));
          return (
            <g
              key={r.id}
              className={`rod ${chosen ? "rod-chosen" : ""}`}
              onClick={() => p.chooseRod(r.id)}
            >
              <path d={`M${a.join(" ")}L${b.join(" ")}`} />
              {!p.ghostly && spot && (
                <text x={spot[0]} y={spot[1]} textAnchor="middle">
                  {plain(r.id)}
                </text>
              )}
            </g>
          );
        })}
      {p.bodies
        .filter((b) => shown(b.id))
        .map((b) => {
          const pivot = at(`${b.id}/`);
          const points = Object.keys(b.points ?? {});
          const slides = b.kind === "slide";
          const spots = points.map((n) => at(`${b.id}/${n}`)).filter((x) => x !== null);
          const from = pivot ?? spots[0];
          if (!from) return null;
          const name = labels.place(from[0] + unit * 0.6, from[1] + unit * 1.5, plain(b.id));
          return (
            <g key={b.id} className={slides ? "body body-slide" : "body"}>
              <Wing body={b.id} {...p} />
              {spots.map((s, i) => (
                <path key={i} className="arm" d={`M${from.join(" ")}L${s.join(" ")}`} />
              ))}
              {!p.ghostly &&
                points.map((n) => {
                  const s = at(`${b.id}/${n}`);
                  return (
                    s && (
                      <circle
                        key={n}
                        className="ball"
                        cx={s[0]}
                        cy={s[1]}
                        r={unit * (n === "grip" ? 0.7 : 0.38)}
                        onPointerDown={(e) => {
                          e.preventDefault();
                          p.grab?.(`${b.id}/${n}`);
                        }}
                      >
                        <title>{`${plain(b.id)}, ${plain(n)}`}</title>
                      </circle>
                    )
                  );
                })}
              {pivot && <circle className="pivot" cx={pivot[0]} cy={pivot[1]} r={unit * 0.42} />}
              {!p.ghostly && name && (
                <text className="body-name" x={name[0]} y={name[1]}>
                  {plain(b.id)}
                </text>
              )}
            </g>
          );
        })}
    </>
  );
}

/** The surface itself, from its hinge to its trailing edge. */
function Wing(p: DrawnProps & { body: string }) {
  const out = p.solved.outputs.find((o) => o.body === p.body && o.surface);
  const surface = p.surfaces.find((s) => s.slug === out?.surface);
  const pivot = p.now.get(`${p.body}/`);
  if (!out || !pivot || !surface?.chord_mm) return null;
  const pairs = slice(p.solved, out.values, p.solved.axes[0]?.name ?? "", p.at);
  const current = nearestValue(pairs, p.at[p.solved.axes[0]?.name ?? ""] ?? 0);
  if (current === null) return null;
  const a = (current * Math.PI) / 180;
  const edge = trailing(pivot, surface, a);
  const [x0, y0] = p.flat(pivot);
  const [x1, y1] = p.flat(edge);
  return <path className="surface-line" d={`M${x0} ${y0}L${x1} ${y1}`} />;
}

/** Where each surface and input lever stands at the first stop each way. */
function StopLines(p: DrawnProps) {
  const axis = p.solved.axes[0]?.name ?? "";
  return (
    <>
      {p.solved.stops.flatMap((s) => {
        const out = p.solved.outputs.find((o) => o.name === s.output);
        if (!out?.surface || s.input !== axis || (p.only && !p.only.has(out.body))) return [];
        const surface = p.surfaces.find((x) => x.slug === out.surface);
        const pivot = p.now.get(`${out.body}/`);
        return s.ways.flatMap((w) => {
          if (w.input === null || w.output === null || !pivot || !surface?.chord_mm) return [];
          const edge = trailing(pivot, surface, (w.output * Math.PI) / 180);
          const [x0, y0] = p.flat(pivot);
          const [x1, y1] = p.flat(edge);
          return [
            <g key={`${s.output}/${w.direction}`} className="stop-line">
              <path d={`M${x0} ${y0}L${x1} ${y1}`}>
                <title>{plain(w.contacts[0]?.stop ?? "")}</title>
              </path>
              <text x={x1 + p.unit * 0.3} y={y1 + p.unit * 0.3}>
                {`${w.output.toFixed(1).replace("-", "−")}°`}
              </text>
            </g>,
          ];
        });
      })}
    </>
  );
}

function nearestValue(pairs: [number, number | null][], at: number): number | null {
  const i = pairs.findIndex(([v]) => v >= at);
  const [v1, y1] = pairs[i] ?? pairs.at(-1) ?? [0, null];
  const [v0, y0] = pairs[Math.max(i - 1, 0)] ?? [0, null];
  if (y0 === null || y1 === null) return null;
  return v1 === v0 ? y1 : y0 + ((y1 - y0) * (at - v0)) / (v1 - v0);
}

function trailing(pivot: Point, s: Surface, a: number): Point {
  const c = s.chord_mm ?? 0;
  if (s.positive === "trailing_edge_right")
    return [pivot[0] + c * Math.cos(a), pivot[1] + c * Math.sin(a), pivot[2]];
  const up = s.positive === "trailing_edge_up" ? 1 : -1;
  return [pivot[0] + c * Math.cos(a), pivot[1], pivot[2] + up * c * Math.sin(a)];
}

/** The way of every point of a body over the whole range of the moved input. */
function Paths(p: { body: BodyFile; solved: Solved; axis: string; at: At; flat: Flat }) {
  const lines = p.solved.tracks
    .filter((t) => t.body === p.body.id && t.point)
    .map((t) => {
      const xs = slice(p.solved, t.x, p.axis, p.at);
      const ys = slice(p.solved, t.y, p.axis, p.at);
      const zs = slice(p.solved, t.z, p.axis, p.at);
      return xs
        .map(([, x], i) => [x, ys[i]?.[1] ?? null, zs[i]?.[1] ?? null])
        .filter((q): q is Point => q.every((v) => v !== null))
        .map((q) => p.flat(q).join(" "))
        .join("L");
    });
  return (
    <path
      className="swept"
      d={lines
        .filter(Boolean)
        .map((l) => `M${l}`)
        .join("")}
    />
  );
}

type Box = { x: number; y: number; w: number; h: number };

function bounds(s: Solved, flat: Flat, only: Set<string> | null, surfaces: Surface[]): Box {
  let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity];
  const take = (q: Point) => {
    const [x, y] = flat(q);
    [x0, y0, x1, y1] = [Math.min(x0, x), Math.min(y0, y), Math.max(x1, x), Math.max(y1, y)];
  };
  for (const t of s.tracks) {
    if (only && !only.has(t.body)) continue;
    const skip = Math.max(1, Math.floor(t.x.length / 24));
    for (let i = 0; i < t.x.length; i += skip) {
      const [x, y, z] = [t.x[i], t.y[i], t.z[i]];
      if (typeof x === "number" && typeof y === "number" && typeof z === "number") take([x, y, z]);
    }
    const out = s.outputs.find((o) => o.body === t.body && !t.point);
    const chord = surfaces.find((q) => q.slug === out?.surface)?.chord_mm ?? 0;
    if (!chord) continue;
    const [x, y, z] = [t.x, t.y, t.z].map((v) => v.find((c) => c !== null) ?? 0) as Point;
    // Room for the surface at both stops, with its label.
    for (const up of [-0.5, 0.5]) take([x + chord * 1.25, y, z + up * chord]);
  }
  if (!Number.isFinite(x0)) return { x: 0, y: 0, w: 100, h: 100 };
  const pad = Math.max(PAD, (x1 - x0) * 0.06, (y1 - y0) * 0.08);
  const h = Math.max(y1 - y0, (x1 - x0) * 0.2) + 2.6 * pad;
  const w = Math.max(x1 - x0 + 2.3 * pad, h * 1.75);
  const [across, up] = [(x0 + x1) / 2, (y0 + y1) / 2];
  return { x: across - w / 2, y: up - h / 2 + pad * 0.2, w, h };
}

function Scales({ box, unit, view }: { box: Box; unit: number; view: View }) {
  const named = VIEWS.find((v) => v.value === view);
  const flipX = view === "front" ? -1 : 1;
  const flipY = -1;
  const bottom = box.y + box.h - unit * 0.5;
  const left = box.x + unit * 0.3;
  return (
    <g className="scales">
      {marks(box.x + unit * 4, box.x + box.w - unit * 3, 8).map((v) => (
        <g key={`x${v}`}>
          <path d={`M${v} ${bottom - unit * 1.5}v${unit * 0.5}`} />
          <text x={v} y={bottom} textAnchor="middle">
            {String(Math.round(v * flipX)).replace("-", "−")}
          </text>
        </g>
      ))}
      {marks(box.y + unit * 2, box.y + box.h - unit * 3, 4).map((v) => (
        <g key={`y${v}`}>
          <path d={`M${left} ${v}h${unit * 0.5}`} />
          <text x={left + unit * 0.7} y={v + unit * 0.32}>
            {String(Math.round(v * flipY)).replace("-", "−")}
          </text>
        </g>
      ))}
      <text
        x={box.x + box.w - unit * 0.4}
        y={bottom - unit * 1.8}
        textAnchor="end"
        className="scale-name"
      >
        {named ? `${named.across}, ${named.up} ↑, mm` : "square to the axis, mm"}
      </text>
    </g>
  );
}

/** Keeps labels from lying on one another: a label without room is left out (its title stays). */
class Placer {
  private taken: [number, number, number, number][] = [];
  constructor(private unit: number) {}
  /** Something drawn here: no label lies on it. */
  block(x: number, y: number) {
    const r = this.unit * 0.35;
    this.taken.push([x - r, y - r, x + r, y + r]);
  }
  place(x: number, y: number, text: string): [number, number] | null {
    const w = text.length * this.unit * 0.46;
    for (const dy of [0, -1.2, 1.2, -2.4, 2.4, 3.6]) {
      const at = y + dy * this.unit;
      const mine: [number, number, number, number] = [x - w / 2, at - this.unit, x + w, at];
      if (
        this.taken.every(
          (t) => mine[2] < t[0] || mine[0] > t[2] || mine[3] < t[1] || mine[1] > t[3],
        )
      ) {
        this.taken.push(mine);
        return [x, at];
      }
    }
    return null;
  }
}

function paper(svg: SVGSVGElement, e: React.PointerEvent): [number, number] {
  const m = svg.getScreenCTM();
  if (!m) return [0, 0];
  const q = new DOMPoint(e.clientX, e.clientY).matrixTransform(m.inverse());
  return [q.x, q.y];
}

/** A place on the paper back in aircraft axes, keeping what the view does not show. */
function lifted(view: View, [x, y]: [number, number], was: Point): Point {
  if (view === "top") return [x, -y, was[2]];
  if (view === "front") return [was[0], -x, -y];
  return [x, was[1], -y];
}

function spoken(s: Solved, at: At): string {
  const inputs = s.axes.map((a) => `${plain(a.name)} ${(at[a.name] ?? 0).toFixed(1)}${a.unit}`);
  const outs = s.outputs.map((o) => {
    const pairs = slice(s, o.values, s.axes[0]?.name ?? "", at);
    const v = nearestValue(pairs, at[s.axes[0]?.name ?? ""] ?? 0);
    return `${o.surface_name || plain(o.name)} ${v === null ? "locked" : v.toFixed(1) + o.unit}`;
  });
  return `Linkage at ${inputs.join(", ")}: ${outs.join(", ")}`;
}
