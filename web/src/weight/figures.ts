/** What the drawings of weight and balance take from the server. */
import type { WeightRow } from "../app/api";

export type Point = readonly [mm: number, kg: number];
export type State = {
  kg: number;
  x_mm: number;
  U_kg: number;
  U_mm: number;
  verdict: string | null;
  moment: number;
  y_mm: number;
};
export type Chord = { edge_mm: number; chord_mm: number } | null;
export type LoadingFigure = {
  envelope: Point[];
  way: { name: string; x_mm: number; kg: number }[];
  states: Record<string, State>;
  loads: { name: string; x_mm: number; kg: number; max: number | null }[];
  track: Point[];
  crossings: { x_mm: number; kg: number; kind: string; side: string }[];
  mac: Chord;
};
export type Extreme = { what: string; kg: number; at_mm: number; loads: Record<string, number> };
export type WorstSide = {
  x_mm: number;
  kg: number;
  margin_mm: number;
  U_mm: number;
  loads: Record<string, number>;
} | null;
export type WorstFigure = {
  envelope: Point[];
  why?: string;
  forward?: Point[];
  aft?: Point[];
  worst?: { forward: WorstSide; aft: WorstSide };
  extremes?: Extreme[];
  min_kg?: number;
  max_kg?: number;
  full_kg?: number;
  mac?: Chord;
};
export type WheelDrawn = {
  wheel: string;
  kind: string;
  scale: string;
  x_mm: number;
  y_mm: number | null;
  tare_kg: number;
  kg: number | null;
  net_kg?: number;
};
export type WeighingFigure = {
  wheels: WheelDrawn[];
  result: {
    mass_kg: number;
    U_kg: number;
    x_mm: number;
    U_mm: number;
    y_mm: number | null;
    U_y_mm: number | null;
    moment: number;
    U_moment: number;
    weighed_kg: number;
    weighed_mm: number;
  } | null;
  budget: {
    input: string;
    arm: number;
    mass: number;
    U_mm: number;
    U_kg: number;
    without_mm: number;
  }[];
};
export type Estimate = {
  why?: string;
  kg: number;
  U_kg: number;
  x_mm: number;
  U_mm: number;
  moment: number;
  share: Record<string, number>;
  next: { name: string; U_kg: number; U_mm: number }[];
};
export type Side = {
  kg: number;
  x_mm: number;
  moment: number;
  U_mm: number;
  verdict: string;
  forward_mm: number | null;
  aft_mm: number | null;
};
export type Effect = {
  why?: string;
  before: Side;
  after: Side;
  change: { kg: number; x_mm: number; moment: number };
  accumulated: { mass_kg: number; moment_kg_m: number };
  reweigh_due: boolean;
  names: string[];
};
export type Ballast = {
  why?: string;
  cases: string[];
  U_mm: number;
  feasible: boolean;
  feasible_kg: Point[];
  least_kg?: number;
  split_kg?: Record<string, number>;
  after: string | null;
  conflict?: { ballast_kg: number; needs: string; forbids: string; apart_kg_m: number } | null;
};

/** The drawing of a row, if it can be drawn. */
export const drawn = <T>(row: WeightRow | undefined): T | null =>
  row && Object.keys(row.figure).length > 0 ? (row.figure as T) : null;

/** A load moved by hand: mass and moment are straight in it, so the point follows at once. */
export function moved(f: LoadingFigure, kg: Record<string, number>): Record<string, State> {
  let [mass, moment] = [0, 0];
  for (const load of f.loads) {
    const more = (kg[load.name] ?? load.kg) - load.kg;
    mass += more;
    moment += (more * load.x_mm) / 1e3;
  }
  return Object.fromEntries(
    Object.entries(f.states).map(([name, s]) => {
      const now = s.kg + mass;
      return [
        name,
        { ...s, kg: now, moment: s.moment + moment, x_mm: ((s.moment + moment) / now) * 1e3 },
      ];
    }),
  );
}

/** The burn shifted with a load: each point keeps the fuel that is left there. */
export function shifted(f: LoadingFigure, kg: Record<string, number>): Point[] {
  const now = moved(f, kg).takeoff;
  const was = f.states.takeoff;
  if (!now || !was) return f.track;
  const [mass, moment] = [now.kg - was.kg, now.moment - was.moment];
  return f.track.map(
    ([x, m]) => [((x * m) / 1e3 + moment) / ((m + mass) / 1e3), m + mass] as const,
  );
}

/** What a combination is, in words. */
export const combination = (loads: Record<string, number>): string => {
  const on = Object.entries(loads).filter(([, kg]) => kg > 0.05);
  return on.length
    ? on.map(([n, kg]) => `${n} ${kg.toFixed(0)} kg`).join(", ")
    : "nothing on board";
};
