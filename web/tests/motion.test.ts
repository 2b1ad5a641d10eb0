// @vitest-environment node
import { assert, test } from "vitest";

import type { Solved } from "../src/app/api";
import { nearest, pose, pose1, slice, value, weights } from "../src/controls/linkage/motion";
import { flatten } from "../src/controls/linkage/views";
import { chance, near } from "./near";

/** Two inputs, solved on a grid; everything that moves is straight in both. */
const ROLL = [-20, -10, 0, 10, 20];
const FLAP = [0, 8, 16];
const plane = (a: number, b: number, c: number) =>
  ROLL.flatMap((r) => FLAP.map((f) => a * r + b * f + c));
const solved = {
  axes: [
    { name: "roll", values: ROLL },
    { name: "flap", values: FLAP },
  ],
  tracks: [
    { body: "crank", point: "", x: plane(0, 0, 100), y: plane(0, 0, 5), z: plane(0, 0, 7) },
    { body: "crank", point: "out", x: plane(1, 0, 100), y: plane(0, 2, 0), z: plane(-1, 1, 50) },
    {
      body: "lost",
      point: "end",
      x: plane(1, 0, 0).fill(null as never, 0, 3),
      y: plane(0, 0, 0),
      z: plane(0, 0, 0),
    },
  ],
} as unknown as Solved;

test("weights add up to one and lie around the place", () => {
  const next = chance(5);
  for (let i = 0; i < 300; i++) {
    const at = { roll: next() * 60 - 30, flap: next() * 24 - 4 };
    const w = weights(solved, at);
    near(
      w.reduce((sum, [, weight]) => sum + weight, 0),
      1,
    );
    for (const [index, weight] of w) {
      assert.ok(index >= 0 && index < ROLL.length * FLAP.length, `index ${index}`);
      assert.ok(weight >= 0 && weight <= 1 + 1e-12);
    }
  }
});

test("between the solved positions a straight motion is met exactly", () => {
  const next = chance(9);
  for (let i = 0; i < 300; i++) {
    const at = { roll: next() * 40 - 20, flap: next() * 16 };
    const p = pose1(solved, "crank/out", at);
    near(p?.[0], 100 + at.roll);
    near(p?.[1], 2 * at.flap);
    near(p?.[2], 50 - at.roll + at.flap);
  }
});

test("beyond the ends it stays at the end", () => {
  const p = pose1(solved, "crank/out", { roll: 90, flap: 99 });
  near(p?.[0], 120);
  near(p?.[1], 32);
});

test("what is beyond lock-up has no place", () => {
  assert.strictEqual(
    value(
      [1, null, 3],
      [
        [1, 0.5],
        [2, 0.5],
      ],
    ),
    null,
  );
  assert.strictEqual(value([1, 2], [[7, 1]]), null);
  assert.strictEqual(pose1(solved, "lost/end", { roll: -20, flap: 0 }), null);
  assert.strictEqual(pose1(solved, "none/such", {}), null);
  const found = pose(solved, { roll: -20, flap: 0 });
  assert.deepEqual([...found.keys()], ["crank/", "crank/out"]);
});

test("a series along one axis, the other held", () => {
  const pairs = slice(solved, plane(3, 1, 0), "roll", { flap: 8 });
  assert.deepEqual(
    pairs.map(([x]) => x),
    ROLL,
  );
  for (const [x, y] of pairs) near(y, 3 * x + 8);
  assert.deepEqual(slice(solved, plane(1, 0, 0), "pitch", {}), []);
});

test("the value that brings a point nearest is found by trying all", () => {
  const wanted = 111;
  const found = nearest(solved, "crank/out", "roll", { flap: 0 }, ([x]) => Math.abs(x - wanted));
  assert.strictEqual(found, 10);
  assert.strictEqual(
    nearest(solved, "none/such", "roll", {}, () => 0),
    null,
  );
});

test("the views are true projections: nose left, right way up", () => {
  const axes = new Map([["slanted", [0.3, 0.9, 0.2]]]);
  assert.deepEqual(flatten("side", axes)([2, 3, 4]), [2, -4]);
  assert.deepEqual(flatten("top", axes)([2, 3, 4]), [2, -3]);
  assert.deepEqual(flatten("front", axes)([2, 3, 4]), [-3, -4]);
});

test("along an axis nothing that lies on it is seen to move, and lengths across it are true", () => {
  const next = chance(2);
  for (let i = 0; i < 200; i++) {
    const raw = [next() - 0.5, next() - 0.5, next() - 0.5];
    const size = Math.hypot(...raw);
    if (size < 0.2) continue;
    const n = raw.map((v) => v / size) as [number, number, number];
    const flat = flatten("axis own", new Map([["own", n]]));
    const p: [number, number, number] = [next() * 5, next() * 5, next() * 5];
    const along: [number, number, number] = [p[0] + n[0], p[1] + n[1], p[2] + n[2]];
    const [x0, y0] = flat(p);
    const [x1, y1] = flat(along);
    near(Math.hypot(x1 - x0, y1 - y0), 0, 1e-9);
    // What lies square to the axis keeps its length.
    const across: [number, number, number] = [n[1], -n[0], 0];
    const length = Math.hypot(...across);
    const [x2, y2] = flat([p[0] + across[0], p[1] + across[1], p[2]]);
    near(Math.hypot(x2 - x0, y2 - y0), length, 1e-9);
  }
});
