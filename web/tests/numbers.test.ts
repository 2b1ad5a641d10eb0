// @vitest-environment node
import { assert, test } from "vitest";

import { fromMm, number, numbers, toMm } from "../src/kit/numbers";
import { limit, plural, range, shown } from "../src/marks/words";
import { force, inUnit, LBF, mm, unitOf } from "../src/cables/units";
import { chance, near } from "./near";

test("a comma is a decimal point and a true minus is a minus", () => {
  for (const [typed, want] of [
    ["3", 3],
    [" 3.5 ", 3.5],
    ["3,5", 3.5],
    ["−0,25", -0.25],
    ["-12", -12],
    ["1e-3", 0.001],
  ] as const)
    equalNumber(number(typed), want);
});

const equalNumber = (got: number, want: number) => near(got, want);

test("what is no number is none, and nothing typed is not zero", () => {
  for (const typed of ["", "  ", "three", "3 mm", "1.2.3", "-", "−"])
    assert.ok(Number.isNaN(number(typed)), typed);
});

test("several numbers, parted by white space or semicolons", () => {
  assert.deepEqual(numbers("32; 32"), [32, 32]);
  assert.deepEqual(numbers(" 2,5  −3;4 "), [2.5, -3, 4]);
  assert.deepEqual(numbers(""), []);
});

test("millimetres typed and shown come back to the thousandth", () => {
  const next = chance(7);
  for (let i = 0; i < 500; i++) {
    const m = Math.round((next() * 8 - 4) * 1e6) / 1e6;
    near(fromMm(toMm(m)), m, 1e-12);
  }
  assert.strictEqual(toMm(0.0065), "6.5");
  assert.strictEqual(toMm(-1.234), "-1234");
  near(fromMm("−12,7"), -0.0127);
});

test("a value is shown with a true minus, and never as minus nought", () => {
  assert.strictEqual(shown(-1.25, "°"), "−1.3°");
  assert.strictEqual(shown(-0.04, "°"), "0.0°");
  assert.strictEqual(shown(null, "°"), "–");
  assert.strictEqual(shown(undefined, " mm"), "–");
  assert.strictEqual(shown(26, " lb", 0), "26 lb");
});

test("limits without needless zeros, and ranges in words", () => {
  assert.strictEqual(limit(17.5, "°"), "17.5°");
  assert.strictEqual(limit(-20, "°"), "−20°");
  assert.strictEqual(range(25, 28, "°"), "25° to 28°");
  assert.strictEqual(range(-0.5, 0.5, "°"), "±0.5°");
  assert.strictEqual(range(null, 2, "°"), "at most 2°");
  assert.strictEqual(range(2, null, "°"), "at least 2°");
  assert.strictEqual(range(0, null, ""), "at least 0");
});

test("one thing and several things", () => {
  assert.strictEqual(plural(1, "bolt"), "1 bolt");
  assert.strictEqual(plural(0, "bolt"), "0 bolts");
  assert.strictEqual(plural(12, "bolt"), "12 bolts");
});

test("forces in the unit in which the maker's tension was typed", () => {
  near(inUnit(LBF, "lb"), 1);
  near(inUnit(12, "N"), 12);
  assert.strictEqual(force(133.446648, "lb"), "30.0 lb");
  assert.strictEqual(force(133.446648, "N"), "133 N");
  assert.strictEqual(force(null, "lb"), "–");
  for (const [tension, unit] of [
    ["30 lb", "lb"],
    ["133 N", "N"],
    ["13 daN", "N"],
    ["30", "lb"],
    [undefined, "lb"],
  ] as const)
    assert.strictEqual(unitOf({ target: { tension } }), unit, String(tension));
  assert.strictEqual(unitOf(null), "lb");
});

test("metres as millimetres", () => {
  assert.strictEqual(mm(0.0508), "51 mm");
  assert.strictEqual(mm(0.0508, 1), "50.8 mm");
  assert.strictEqual(mm(null), "–");
  assert.strictEqual(mm(0.0005), "1 mm");
});
