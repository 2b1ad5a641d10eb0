/** Weight and balance: a point that follows a load is where the sum says. */
import { describe, expect, it } from "vitest";

import { loaded } from "../src/weight/EnvelopeChart";
import { combination, type LoadingFigure, moved, shifted } from "../src/weight/figures";
import { measured } from "../src/worksheets/AskedField";

const state = (kg: number, x_mm: number) => ({
  ...{ kg, x_mm, moment: (kg * x_mm) / 1e3 },
  ...{ U_kg: 1, U_mm: 3, verdict: "in", y_mm: 0 },
});
const FIGURE: LoadingFigure = {
  envelope: [],
  way: [],
  states: { takeoff: state(500, 2300), landing: state(460, 2310) },
  loads: [
    { name: "Pilot", x_mm: 2550, kg: 80, max: 115 },
    { name: "Baggage", x_mm: 3400, kg: 10, max: 25 },
  ],
  track: [
    [2300, 500],
    [2310, 460],
  ],
  crossings: [],
  mac: null,
};

describe("a load that is moved", () => {
  it("moves every state by its own mass and moment", () => {
    const now = moved(FIGURE, { Baggage: 25, Pilot: 70 });
    const [mass, moment] = [15 - 10, 15 * 3.4 - 10 * 2.55];
    for (const [name, was] of Object.entries(FIGURE.states)) {
      expect(now[name]?.kg).toBeCloseTo(was.kg + mass, 9);
      expect(now[name]?.x_mm).toBeCloseTo(((was.moment + moment) / (was.kg + mass)) * 1e3, 6);
    }
  });
  it("moves the burn with it, and back again", () => {
    const now = shifted(FIGURE, { Baggage: 25 });
    expect(now[0]?.[1]).toBeCloseTo(515, 9);
    expect(now[0]?.[0]).toBeCloseTo(moved(FIGURE, { Baggage: 25 }).takeoff?.x_mm ?? 0, 6);
    expect(shifted(FIGURE, { Baggage: 10 })[1]?.[0]).toBeCloseTo(2310, 6);
  });
});

describe("a load that comes on board", () => {
  it("moves the balance along a straight line of moment and mass", () => {
    const way = loaded([
      [2250, 350],
      [2300, 450],
    ]);
    expect(way[0]).toEqual([2250, 350]);
    expect(way.at(-1)).toEqual([2300, 450]);
    for (const [mm, kg] of way)
      expect(mm * kg).toBeCloseTo(2250 * 350 + ((kg - 350) / 100) * (2300 * 450 - 2250 * 350), 4);
    expect(way.length).toBeGreaterThan(10);
  });
});

describe("words", () => {
  it("a combination tells what is on board, and of nothing that it is nothing", () => {
    expect(combination({ Pilot: 80.4, Baggage: 0 })).toBe("Pilot 80 kg");
    expect(combination({ Pilot: 0 })).toBe("nothing on board");
  });
  it("a unit stands behind a label that does not name it as a word of its own", () => {
    const of = (label: string, unit: string) => measured({ label, of: "x", unit }, "mm");
    expect(of("Burned in flight", "l")).toBe("Burned in flight, l");
    expect(of("Volume, l", "l")).toBe("Volume, l");
    expect(of("Known to ±, %", "%")).toBe("Known to ±, %");
    expect(of("Arm", "")).toBe("Arm");
    expect(measured({ label: "Arm", of: "length", unit: "" }, "in")).toBe("Arm, in");
  });
});
