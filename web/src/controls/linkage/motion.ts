/** Positions between those that were solved: the figure moves without asking the server. */
import type { Solved } from "../../app/api";

export type Point = [number, number, number];
export type At = Record<string, number>;
type Weights = [number, number][];

/** Where on one axis: the two solved values around it. */
function along(values: number[], at: number): [number, number] {
  const last = values.length - 1;
  const first = values[0] ?? 0;
  const step = last > 0 ? ((values[last] ?? 0) - first) / last : 1;
  const place = Math.min(Math.max((at - first) / (step || 1), 0), last);
  const below = Math.min(Math.floor(place), Math.max(last - 1, 0));
  return [below, place - below];
}

/** The solved positions around `at` with their weights (two for one input, four for two). */
export function weights(s: Solved, at: At): Weights {
  let found: Weights = [[0, 1]];
  for (const axis of s.axes) {
    const [below, share] = along(axis.values, at[axis.name] ?? 0);
    const count = axis.values.length;
    found = found.flatMap(([index, weight]): Weights => {
      const low = index * count + below;
      return share > 1e-9
        ? [
            [low, weight * (1 - share)],
            [low + 1, weight * share],
          ]
        : [[low, weight]];
    });
  }
  return found;
}

/** A series at this place, null beyond lock-up. */
export function value(series: (number | null)[], w: Weights): number | null {
  let sum = 0;
  for (const [index, weight] of w) {
    const v = series[index];
    if (v === null || v === undefined) return null;
    sum += v * weight;
  }
  return sum;
}

export type Pose = Map<string, Point>;

/** Where every pivot ("body/") and point ("body/point") is, mm. */
export function pose(s: Solved, at: At): Pose {
  const w = weights(s, at);
  const found: Pose = new Map();
  for (const t of s.tracks) {
    const [x, y, z] = [value(t.x, w), value(t.y, w), value(t.z, w)];
    if (x !== null && y !== null && z !== null) found.set(`${t.body}/${t.point}`, [x, y, z]);
  }
  return found;
}

/** A series along one axis, the others held at `at`. */
export function slice(s: Solved, series: (number | null)[], axis: string, at: At) {
  const found = s.axes.find((a) => a.name === axis);
  return (found?.values ?? []).map((v): [number, number | null] => [
    v,
    value(series, weights(s, { ...at, [axis]: v })),
  ]);
}

/** The value of one axis that brings a point nearest to a place in the figure. */
export function nearest(
  s: Solved,
  track: string,
  axis: string,
  at: At,
  distance: (p: Point) => number,
): number | null {
  const values = s.axes.find((a) => a.name === axis)?.values ?? [];
  let best: [number, number] | null = null;
  for (const v of values) {
    const p = pose1(s, track, { ...at, [axis]: v });
    if (!p) continue;
    const d = distance(p);
    if (best === null || d < best[0]) best = [d, v];
  }
  return best?.[1] ?? null;
}

export function pose1(s: Solved, track: string, at: At): Point | null {
  const t = s.tracks.find((x) => `${x.body}/${x.point}` === track);
  if (!t) return null;
  const w = weights(s, at);
  const [x, y, z] = [value(t.x, w), value(t.y, w), value(t.z, w)];
  return x !== null && y !== null && z !== null ? [x, y, z] : null;
}
