/** What every chart needs: from values to places on the paper, lines, and round marks. */
export type Scale = (value: number) => number;

/** Straight from values to places; a range without extent lies at its first place. */
export const scale =
  ([v0, v1]: readonly [number, number], [p0, p1]: readonly [number, number]): Scale =>
  (value) =>
    p0 + ((value - v0) / (v1 - v0 || 1)) * (p1 - p0);

/** By powers of ten, as sounds are heard; what lies below the range lies at its foot. */
export const powers =
  ([v0, v1]: readonly [number, number], [p0, p1]: readonly [number, number]): Scale =>
  (value) =>
    p0 + (Math.log(Math.max(value, v0) / v0) / Math.log(v1 / v0)) * (p1 - p0);

/** A line through points; a point without a value interrupts it. */
export const line = (
  pairs: readonly (readonly [number, number | null])[],
  px: Scale,
  py: Scale,
): string =>
  pairs
    .map(([x, y], i) => {
      if (y === null) return "";
      const begins = i === 0 || pairs[i - 1]?.[1] === null;
      return `${begins ? "M" : "L"}${px(x).toFixed(1)} ${py(y).toFixed(1)}`;
    })
    .join("");

/** What a line says at a place between its points; outside of them the nearest. */
export function valueAt(
  pairs: readonly (readonly [number, number | null])[],
  at: number,
): number | null {
  const i = pairs.findIndex(([x]) => x >= at);
  const [x1, y1] = pairs[i] ?? pairs.at(-1) ?? [0, null];
  const [x0, y0] = i < 0 ? [x1, y1] : (pairs[Math.max(i - 1, 0)] ?? [0, null]);
  if (y0 === null || y1 === null) return null;
  return x1 === x0 ? y1 : y0 + ((y1 - y0) * (at - x0)) / (x1 - x0);
}

/** Round numbers for a scale of about `count` marks. */
export function marks(low: number, high: number, count: number): number[] {
  const rough = (high - low) / Math.max(count, 1);
  const power = 10 ** Math.floor(Math.log10(Math.max(rough, 1e-9)));
  const step = [1, 2, 5, 10].map((m) => m * power).find((s) => s >= rough) ?? rough;
  const found = [];
  for (let v = Math.ceil(low / step) * step; v <= high + 1e-9; v += step) found.push(v);
  return found;
}
