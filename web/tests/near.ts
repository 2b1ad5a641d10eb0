/** Numbers that are the same but for rounding, and many different ones, always the same. */
import { assert } from "vitest";

export const near = (got: number | null | undefined, want: number, by = 1e-9): void =>
  assert.ok(
    typeof got === "number" && Math.abs(got - want) <= by * Math.max(1, Math.abs(want)),
    `${String(got)} for ${want}`,
  );

/** Numbers between 0 and 1 that look like chance. */
export function chance(seed: number): () => number {
  let u = seed;
  return () => {
    u = (1664525 * u + 1013904223) % 2 ** 32;
    return u / 2 ** 32;
  };
}
