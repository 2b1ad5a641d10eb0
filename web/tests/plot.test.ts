// @vitest-environment node
import { assert, test } from "vitest";

import { line, marks, powers, scale, valueAt } from "../src/kit/plot";
import { chance, near } from "./near";

test("a scale takes its ends to its ends and its middle to its middle", () => {
  const next = chance(3);
  for (let i = 0; i < 200; i++) {
    const [v0, v1, p0, p1] = [next() * 9, 10 + next() * 9, next() * 300, next() * 300];
    const s = scale([v0, v1], [p0, p1]);
    near(s(v0), p0);
    near(s(v1), p1);
    near(s((v0 + v1) / 2), (p0 + p1) / 2);
  }
});

test("a scale without extent stays on the paper", () => {
  near(scale([3, 3], [10, 90])(3), 10);
});

test("powers of ten lie evenly, and what is too quiet lies at the foot", () => {
  const s = powers([1, 1000], [0, 90]);
  [0, 30, 60, 90].forEach((place, i) => near(s(10 ** i), place, 1e-6));
  near(s(0.001), 0);
});

test("a line goes through its points and is broken where there is no value", () => {
  const same = (v: number) => v;
  assert.strictEqual(
    line(
      [
        [0, 1],
        [1, 2],
        [2, null],
        [3, 4],
        [4, 5],
      ],
      same,
      same,
    ),
    "M0.0 1.0L1.0 2.0M3.0 4.0L4.0 5.0",
  );
  assert.strictEqual(line([], same, same), "");
});

test("between two points the line's own value, beyond them the nearest", () => {
  const pairs: [number, number | null][] = [
    [0, 10],
    [2, 20],
    [4, null],
    [6, 5],
  ];
  near(valueAt(pairs, 1), 15);
  near(valueAt(pairs, 0), 10);
  near(valueAt(pairs, 2), 20);
  near(valueAt(pairs, -3), 10);
  near(valueAt(pairs, 9), 5);
  assert.strictEqual(valueAt(pairs, 3), null);
  assert.strictEqual(valueAt([], 1), null);
});

test("marks are round numbers inside the range, evenly apart, about as many as asked", () => {
  const next = chance(11);
  for (let i = 0; i < 500; i++) {
    const low = next() * 200 - 100;
    const high = low + 0.01 + next() * 300;
    const count = 2 + Math.floor(next() * 8);
    const found = marks(low, high, count);
    for (const v of found)
      assert.ok(v >= low - 1e-6 && v <= high + 1e-6, `${v} of ${low}..${high}`);
    assert.ok(found.length <= count + 1, `${found.length} for ${count}`);
    const steps = found.slice(1).map((v, k) => v - (found[k] ?? 0));
    const [step = 0] = steps;
    for (const s of steps) near(s, step, 1e-6);
    if (step) {
      const lead = step / 10 ** Math.floor(Math.log10(step) + 1e-9);
      assert.ok(
        [1, 2, 5, 10].some((r) => Math.abs(lead - r) < 1e-6),
        `step ${step}`,
      );
    }
  }
});
