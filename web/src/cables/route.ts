/** Where a cable and what is fixed to it are, at any driver angle between those solved. */
import type { CableLoop } from "../app/api";

export type P3 = [number, number, number];

type Position = CableLoop["positions"][number];

/** The two solved positions around an angle, and how far it lies between them. */
function around(solved: CableLoop, deg: number): [Position, Position, number] | null {
  const all = solved.positions;
  const last = all.at(-1);
  const first = all[0];
  if (!first || !last) return null;
  const at = Math.min(Math.max(deg, first.driver_deg), last.driver_deg);
  const i = Math.max(
    1,
    all.findIndex((p) => p.driver_deg >= at),
  );
  const [a, b] = [all[i - 1] ?? first, all[i] ?? last];
  const span = b.driver_deg - a.driver_deg;
  return [a, b, span > 0 ? (at - a.driver_deg) / span : 0];
}

const mix = (a: number, b: number, t: number): number => a + (b - a) * t;

export type Now = {
  driven: number;
  A: number;
  B: number;
  ways: Record<string, P3[]>;
  moved: Record<string, number>;
  status: string;
};

export function nowAt(solved: CableLoop, deg: number): Now | null {
  const found = around(solved, deg);
  if (!found) return null;
  const [a, b, t] = found;
  const way = (from: number[][], to: number[][]): P3[] =>
    from.map((q, i) => {
      const r = to[i] ?? q;
      return [0, 1, 2].map((k) => mix(q[k] ?? 0, r[k] ?? 0, t)) as P3;
    });
  return {
    driven: mix(a.driven_deg, b.driven_deg, t),
    A: mix(a.A_N, b.A_N, t),
    B: mix(a.B_N, b.B_N, t),
    ways: { A: way(a.way_A, b.way_A), B: way(a.way_B, b.way_B) },
    moved: { A: mix(a.moved_A_m, b.moved_A_m, t), B: mix(a.moved_B_m, b.moved_B_m, t) },
    status: t < 0.5 ? a.status : b.status,
  };
}

/** The cable's place at a station. */
export function atStation(way: P3[], x: number): P3 {
  for (let i = 1; i < way.length; i++) {
    const [p, q] = [way[i - 1], way[i]];
    if (!p || !q) continue;
    const [low, high] = p[0] < q[0] ? [p, q] : [q, p];
    if (x >= low[0] && x <= high[0] && high[0] > low[0]) {
      const t = (x - low[0]) / (high[0] - low[0]);
      return [x, mix(low[1], high[1], t), mix(low[2], high[2], t)];
    }
  }
  const ends = [way[0], way.at(-1)].filter((p): p is P3 => p !== undefined);
  ends.sort((p, q) => Math.abs(p[0] - x) - Math.abs(q[0] - x));
  return ends[0] ?? [x, 0, 0];
}

/** The cable between two stations, with what lies between. */
export function stretch(way: P3[], from: number, to: number): P3[] {
  const inside = way.filter((p) => p[0] > from && p[0] < to);
  inside.sort((p, q) => p[0] - q[0]);
  return [atStation(way, from), ...inside, atStation(way, to)];
}
