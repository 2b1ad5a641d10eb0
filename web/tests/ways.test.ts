// @vitest-environment node
import { assert, test } from "vitest";

import { Problem } from "../src/app/api";
import type { Instrument, Reading, Sheet, Surface } from "../src/app/api";
import { firstWay, isLength, METHODS, skinsOf } from "../src/controls/ways";
import { wavOf } from "../src/cables/wav";
import { capital, plain, positionWord, requirementName } from "../src/marks/words";
import { near } from "./near";

const surface = (positive: string) => ({ slug: "s", positive }) as unknown as Surface;
const tool = (id: number, kind: string, overdue = false) =>
  ({ id, name: `tool ${id}`, kind, overdue }) as unknown as Instrument;
const reading = (more: object) =>
  ({
    surface: "s",
    position: "up_stop",
    method: "gauge_difference",
    practice: "",
    instrument: "tool 2",
    zero: "level",
    skin: "",
    place: "",
    current: true,
    ...more,
  }) as unknown as Reading;
const sheet = (...readings: Reading[]) => ({ readings }) as unknown as Sheet;

test("only an offset is a length", () => {
  for (const m of METHODS) assert.strictEqual(isLength(m.value), m.value === "edge_offset");
});

test("a rudder has a left and a right skin", () => {
  assert.deepEqual(skinsOf(surface("trailing_edge_right")), ["left", "right"]);
  assert.deepEqual(skinsOf(surface("trailing_edge_up")), ["upper", "lower"]);
});

test("nothing measured yet: a gauge for what lies level, a ruler for what stands upright", () => {
  const tools = [tool(1, "angle", true), tool(2, "angle"), tool(3, "length")];
  const level = firstWay(sheet(), surface("trailing_edge_up"), "up_stop", tools);
  assert.deepEqual([level.method, level.instrument, level.sense], ["gauge_difference", 2, 1]);
  const upright = firstWay(sheet(), surface("trailing_edge_right"), "left_stop", tools);
  assert.deepEqual(
    [upright.method, upright.practice, upright.instrument],
    ["edge_offset", "straight", 3],
  );
  assert.strictEqual(firstWay(sheet(), surface("trailing_edge_down"), "up_stop", tools).sense, -1);
  assert.strictEqual(firstWay(sheet(), surface("trailing_edge_up"), "up_stop", []).instrument, 0);
});

test("the last reading of this position comes first, then the last of this surface", () => {
  const tools = [tool(1, "angle"), tool(2, "angle"), tool(3, "length")];
  const all = sheet(
    reading({ instrument: "tool 1", zero: "fixed surface", skin: "lower" }),
    reading({ position: "down_stop", instrument: "tool 2" }),
  );
  const up = firstWay(all, surface("trailing_edge_up"), "up_stop", tools);
  assert.deepEqual([up.instrument, up.zero, up.skin], [1, "fixed surface", "lower"]);
  const neutral = firstWay(all, surface("trailing_edge_up"), "neutral", tools);
  assert.strictEqual(neutral.instrument, 2);
});

test("a reading that was replaced is no pattern, and no offset measures a neutral", () => {
  const tools = [tool(1, "angle"), tool(3, "length")];
  const old = sheet(reading({ instrument: "tool 1", current: false }));
  assert.strictEqual(
    firstWay(old, surface("trailing_edge_up"), "up_stop", tools).zero,
    "fixed surface",
  );
  const offset = sheet(reading({ method: "edge_offset", instrument: "tool 3" }));
  const at = firstWay(offset, surface("trailing_edge_up"), "neutral", tools);
  assert.strictEqual(at.method, "gauge_difference");
});

test("a recording is written as sixteen bits, and what is too loud is cut at the edge", () => {
  const bytes = new DataView(wavOf(new Float32Array([0, 0.5, -1, 2, -3]), 8000));
  assert.strictEqual(bytes.byteLength, 44 + 10);
  const word = (at: number) =>
    String.fromCharCode(...[0, 1, 2, 3].map((i) => bytes.getUint8(at + i)));
  assert.deepEqual([word(0), word(8), word(12), word(36)], ["RIFF", "WAVE", "fmt ", "data"]);
  assert.strictEqual(bytes.getUint32(4, true), 36 + 10);
  assert.strictEqual(bytes.getUint32(24, true), 8000);
  assert.strictEqual(bytes.getUint16(34, true), 16);
  const samples = [0, 1, 2, 3, 4].map((i) => bytes.getInt16(44 + 2 * i, true));
  assert.deepEqual([samples[0], samples[2], samples[3], samples[4]], [0, -32767, 32767, -32767]);
  near(samples[1], 16383, 1e-3);
});

test("a problem says what the server said, or that nothing was lost", () => {
  const told = Problem.of(
    422,
    JSON.stringify({ title: "value: is empty", errors: [{ field: "value", reason: "is empty" }] }),
  );
  assert.strictEqual(told.message, "value: is empty");
  assert.strictEqual(told.reason("value"), "is empty");
  assert.strictEqual(told.reason("page"), undefined);
  for (const text of ["", "<html>", "null", "3"]) {
    const odd = Problem.of(500, text);
    assert.ok(odd.message.includes("What you typed is kept"), text);
    assert.strictEqual(odd.status, 500);
  }
});

test("words of positions and requirements", () => {
  assert.strictEqual(positionWord("up_stop"), "up");
  assert.strictEqual(positionWord("detent_36"), "detent 36");
  assert.strictEqual(plain("too_close_by"), "too close by");
  assert.strictEqual(capital("rudder"), "Rudder");
  const of = (kind: string, position = "up_stop") =>
    requirementName({ kind, position } as unknown as Parameters<typeof requirementName>[0]);
  assert.strictEqual(of("travel"), "up");
  assert.strictEqual(of("symmetry"), "up: left against right");
  assert.strictEqual(of("neutral"), "neutral alignment");
  assert.strictEqual(of("ratio"), "up over down");
  assert.strictEqual(of("repeatability"), "neutral from both sides");
});
