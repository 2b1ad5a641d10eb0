// @vitest-environment node
import { assert, test } from "vitest";

import type { CableLoop } from "../src/app/api";
import { atStation, nowAt, type P3, stretch } from "../src/cables/route";
import { fittingsOf, rowsOf } from "../src/cables/FittingRows";
import { extent, heightAt, middle, slice } from "../src/aircraft/profile";
import type { Aircraft } from "../src/app/api";
import { chance, near } from "./near";

const position = (deg: number) => ({
  driver_deg: deg,
  driven_deg: 1.4 * deg,
  A_N: 100 + deg,
  B_N: 100 - deg,
  moved_A_m: deg / 1000,
  moved_B_m: -deg / 1000,
  way_A: [
    [1, 0.1 + deg / 100, 0.5],
    [5, 0.1, 0.5],
  ],
  way_B: [
    [1, -0.1 + deg / 100, 0.5],
    [5, -0.1, 0.5],
  ],
  status: deg < 0 ? "slack A" : "taut",
});
const loop = { positions: [-20, -10, 0, 10, 20].map(position) } as unknown as CableLoop;

test("between two solved angles everything lies in proportion", () => {
  const next = chance(4);
  for (let i = 0; i < 200; i++) {
    const deg = next() * 40 - 20;
    const now = nowAt(loop, deg);
    near(now?.driven, 1.4 * deg);
    near(now?.A, 100 + deg);
    near(now?.B, 100 - deg);
    near(now?.moved.A, deg / 1000);
    near(now?.ways.A?.[0]?.[1], 0.1 + deg / 100);
  }
});

test("beyond the ends it stays at the end, and the state is that of the nearer angle", () => {
  near(nowAt(loop, 99)?.driven, 28);
  near(nowAt(loop, -99)?.driven, -28);
  assert.strictEqual(nowAt(loop, -9)?.status, "slack A");
  assert.strictEqual(nowAt(loop, -1)?.status, "taut");
  assert.strictEqual(nowAt({ positions: [] } as unknown as CableLoop, 3), null);
});

const WAY: P3[] = [
  [1, 0, 0],
  [3, 2, 0],
  [4, 2, 1],
  [6, 0, 1],
];

test("the cable's place at a station lies on its pieces", () => {
  assert.deepEqual(atStation(WAY, 2), [2, 1, 0]);
  assert.deepEqual(atStation(WAY, 3.5), [3.5, 2, 0.5]);
  assert.deepEqual(atStation(WAY, 5), [5, 1, 1]);
  // The same whichever end the cable is drawn from.
  for (const x of [1.2, 2.9, 3.7, 5.5]) {
    const there = atStation(WAY, x);
    const back = atStation([...WAY].reverse(), x);
    [0, 1, 2].forEach((k) => near(back[k], there[k] ?? NaN));
  }
});

test("before and behind the cable its nearer end is meant", () => {
  assert.deepEqual(atStation(WAY, 0), WAY[0]);
  assert.deepEqual(atStation(WAY, 9), WAY[3]);
  assert.deepEqual(atStation([], 2), [2, 0, 0]);
});

test("a stretch of the cable keeps the corners between its ends, in order", () => {
  assert.deepEqual(stretch(WAY, 2, 5), [
    [2, 1, 0],
    [3, 2, 0],
    [4, 2, 1],
    [5, 1, 1],
  ]);
  assert.deepEqual(stretch([...WAY].reverse(), 2, 5)[1], [3, 2, 0]);
});

test("what moves along is kept as it was, negative stations and all", () => {
  const kept = [
    { id: "turnbuckle", kind: "turnbuckle", at: [-0.12, 4.175] },
    { id: "sleeve 2", kind: "sleeve", at: [5.92, 5.98], radius: 0.0048 },
    { id: "shackle", kind: "shackle", at: [0, 0.001] },
  ];
  assert.deepEqual(fittingsOf(rowsOf(kept)), kept);
  assert.deepEqual(rowsOf(undefined), []);
});

test("a station that was typed as nonsense is not taken for a number", () => {
  const [one] = fittingsOf([{ id: " a ", kind: "terminal", from: "x", to: "3", radius: " " }]);
  assert.strictEqual(one?.id, "a");
  assert.ok(Number.isNaN(one?.at[0]));
  assert.strictEqual(one && "radius" in one, false);
});

test("the outline between two stations has the height of the outline", () => {
  const line: [number, number][] = [
    [0, 0],
    [2, 1],
    [6, 1],
  ];
  near(heightAt(line, 1), 0.5);
  near(heightAt(line, 4), 1);
  near(heightAt(line, 9), 1);
  near(heightAt([], 1), 0);
  assert.deepEqual(slice(line, 1, 4), [
    [1, 0.5],
    [2, 1],
    [4, 1],
  ]);
  near(middle([2, 4]), 3);
  near(middle([]), 0);
});

test("an aircraft without bays still has paper to be drawn on", () => {
  const none = { bays: [], outline: { top: [], bottom: [], fin: [] } } as unknown as Aircraft;
  const e = extent(none);
  assert.ok(e.x1 > e.x0 && e.z1 > e.z0);
  const some = {
    bays: [
      { part: "fuselage", x_m: [1, 3], z_m: [0, 1] },
      { part: "left wing", x_m: [-9, 9], z_m: [-9, 9] },
    ],
    outline: { top: [[0.5, 1.2]], bottom: [[0.5, -0.1]], fin: [[5, 2]] },
  } as unknown as Aircraft;
  assert.deepEqual(extent(some), { x0: 0.5, x1: 5, z0: -0.1, z1: 2 });
});
