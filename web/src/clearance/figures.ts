/** Geometry of the drawings alone: views, windows, sections. Nothing is judged here. mm. */
import type { ClearanceThing } from "../app/api";

export type P3 = [number, number, number];
export type Polyline = P3[];
export type View = "side" | "top" | "behind";
export const VIEWS: readonly View[] = ["side", "top", "behind"];
export const VIEW_WORDS: Record<View, string> = {
  side: "From the left",
  top: "From above",
  behind: "From behind",
};
/** Which of station, butt line and water line goes across and up the paper, and how each is named. */
const ACROSS: Record<View, [number, number, string, string]> = {
  side: [0, 2, "station", "water line"],
  top: [0, 1, "station", "butt line"],
  behind: [1, 2, "butt line", "water line"],
};

/** Where a point lies on the paper: water line goes up, right butt line down seen from above. */
export function onPaper(view: View, p: P3): [number, number] {
  const [x, y] = ACROSS[view];
  const up = view === "top" ? 1 : -1;
  return [p[x] ?? 0, up * (p[y] ?? 0)];
}

/** What a place on the paper is, with the coordinate that the view does not show kept. */
export function fromPaper(view: View, at: [number, number], kept: P3): P3 {
  const [x, y] = ACROSS[view];
  const found: P3 = [...kept];
  found[x] = at[0];
  found[y] = (view === "top" ? 1 : -1) * at[1];
  return found;
}

export const axisNames = (view: View): [string, string] => [ACROSS[view][2], ACROSS[view][3]];
/** From paper to what the axis says: only the upright one is turned about. */
export const upright = (view: View, v: number): number => (view === "top" ? v : -v);

export type Window = { x: number; y: number; w: number; h: number };

/** A window around points, with room, as wide to high as asked. */
export function windowOf(view: View, points: Polyline, ratio: number, room: number): Window {
  const paper = points.map((p) => onPaper(view, p));
  const xs = paper.map((p) => p[0]);
  const ys = paper.map((p) => p[1]);
  const [x0, x1] = [Math.min(...xs) - room, Math.max(...xs) + room];
  const [y0, y1] = [Math.min(...ys) - room, Math.max(...ys) + room];
  const w = Math.max(x1 - x0, (y1 - y0) * ratio);
  const h = w / ratio;
  return { x: (x0 + x1 - w) / 2, y: (y0 + y1 - h) / 2, w, h };
}

/** A square window about a place. */
export function about(view: View, place: P3, half: number, ratio: number): Window {
  const [x, y] = onPaper(view, place);
  return { x: x - half * ratio, y: y - half, w: 2 * half * ratio, h: 2 * half };
}

export const path = (view: View, line: Polyline): string =>
  line
    .map((p, n) => {
      const [x, y] = onPaper(view, p);
      return `${n ? "L" : "M"}${x.toFixed(1)} ${y.toFixed(1)}`;
    })
    .join("");

/** Where lines pass a station: butt line and water line. */
export function cut(lines: Polyline[], station: number): [number, number][] {
  const found: [number, number][] = [];
  for (const line of lines)
    for (let n = 1; n < line.length; n++) {
      const [a, b] = [line[n - 1], line[n]];
      if (!a || !b || Math.min(a[0], b[0]) > station || Math.max(a[0], b[0]) < station) continue;
      const t = b[0] === a[0] ? 0.5 : (station - a[0]) / (b[0] - a[0]);
      const at: [number, number] = [a[1] + t * (b[1] - a[1]), a[2] + t * (b[2] - a[2])];
      if (!found.some((f) => Math.hypot(f[0] - at[0], f[1] - at[1]) < 0.05)) found.push(at);
    }
  return found;
}

/** Layers of the drawing, in the order in which they lie: fluids below, wires above. */
export const LAYERS = ["structure", "fluids", "rods", "cables", "wires", "other"] as const;
export type Layer = (typeof LAYERS)[number];
const LAYER: Record<string, Layer> = {
  fuel: "fluids",
  oil: "fluids",
  brake: "fluids",
  oxygen: "fluids",
  vent: "fluids",
  "pitot-static": "fluids",
  "control rod": "rods",
  "control cable": "cables",
  wire: "wires",
  "noisy wire": "wires",
  "quiet wire": "wires",
  coax: "wires",
  structure: "structure",
  "steel part": "structure",
};
export const layerOf = (kind: string): Layer => LAYER[kind] ?? "other";
export const byLayer = (a: ClearanceThing, b: ClearanceThing): number =>
  LAYERS.indexOf(layerOf(a.kind)) - LAYERS.indexOf(layerOf(b.kind));

export const linesOf = (x: number[][][]): Polyline[] => x as unknown as Polyline[];
export const pointsOf = (things: ClearanceThing[]): Polyline =>
  things.flatMap((t) => linesOf(t.lines).flat());

/** Corners as they are typed, mm. */
export const typedCorners = (line: Polyline): string =>
  line.map((p) => p.map((x) => `${Math.round(x * 10) / 10} mm`).join("; ")).join("; ");

export const mm = (x: number): string => {
  const size = Math.abs(x);
  return `${x < 0 ? "−" : ""}${size < 100 ? size.toFixed(1) : size.toFixed(0)}`;
};
