/** From aircraft axes (x aft, y right, z up, mm) to the paper, in true proportion. */
import type { Point } from "./motion";

export type View = "side" | "top" | "front" | `axis ${string}`;
export type Flat = (p: Point) => [number, number];

export const VIEWS: { value: View; word: string; across: string; up: string }[] = [
  { value: "side", word: "Side, nose left", across: "station →", up: "water line" },
  { value: "top", word: "Top, nose left", across: "station →", up: "butt line" },
  { value: "front", word: "From ahead", across: "← butt line", up: "water line" },
];

/** The projection of a view; along an axis the paper is square to it. */
export function flatten(view: View, axes: Map<string, number[]>): Flat {
  if (view === "top") return ([x, y]) => [x, -y];
  if (view === "front") return ([, y, z]) => [-y, -z];
  const axis = axes.get(view.slice(5));
  if (view === "side" || !axis) return ([x, , z]) => [x, -z];
  const n = axis as Point;
  // Across: as near to aft as the plane allows; up: as near to up.
  const aft = reject([1, 0, 0], n) ?? reject([0, 1, 0], n) ?? [1, 0, 0];
  const side = cross(n, aft);
  const turn = side[2] < -1e-9 || (Math.abs(side[2]) < 1e-9 && side[1] < 0) ? -1 : 1;
  const up: Point = [side[0] * turn, side[1] * turn, side[2] * turn];
  return (p) => [dot(p, aft), -dot(p, up)];
}

const dot = (a: Point, b: Point) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
const cross = (a: Point, b: Point): Point => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];

function reject(v: Point, n: Point): Point | null {
  const along = dot(v, n);
  const out: Point = [v[0] - along * n[0], v[1] - along * n[1], v[2] - along * n[2]];
  const size = Math.hypot(...out);
  return size < 0.2 ? null : [out[0] / size, out[1] / size, out[2] / size];
}
