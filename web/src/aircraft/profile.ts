/** The airframe's outline as points, cut at the bay boundaries. */
import type { Aircraft } from "../app/api";

export type Point = [number, number];

export function heightAt(line: Point[], x: number): number {
  for (let i = 1; i < line.length; i++) {
    const [x0, z0] = line[i - 1] as Point;
    const [x1, z1] = line[i] as Point;
    if (x <= x1) return z0 + ((z1 - z0) * (x - x0)) / (x1 - x0 || 1);
  }
  return line.at(-1)?.[1] ?? 0;
}

export function slice(line: Point[], from: number, to: number): Point[] {
  const inside = line.filter(([x]) => x > from && x < to);
  return [[from, heightAt(line, from)], ...inside, [to, heightAt(line, to)]];
}

/** Middle of a range of two, 0 if it is missing. */
export const middle = (range: number[]): number => ((range[0] ?? 0) + (range[1] ?? 0)) / 2;

export type Extent = { x0: number; x1: number; z0: number; z1: number };

/** How far the side profile and the bays reach. */
export function extent(aircraft: Aircraft): Extent {
  if (aircraft.bays.length === 0) return { x0: 0, x1: 6, z0: 0, z1: 1.7 };
  const { top, bottom, fin } = aircraft.outline;
  const points = [...top, ...bottom, ...fin] as Point[];
  const bays = aircraft.bays.filter((b) => !/wing|tail/.test(b.part));
  const xs = [...points.map((p) => p[0]), ...bays.flatMap((b) => b.x_m)];
  const zs = [...points.map((p) => p[1]), ...bays.flatMap((b) => b.z_m)];
  return {
    x0: Math.min(...xs),
    x1: Math.max(...xs),
    z0: Math.min(...zs),
    z1: Math.max(...zs),
  };
}
