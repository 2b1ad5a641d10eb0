/** Views, windows and sections of the clearance drawings: geometry alone. */
import { describe, expect, it } from "vitest";

import type { ClearanceThing } from "../src/app/api";
import {
  about,
  byLayer,
  cut,
  fromPaper,
  layerOf,
  mm,
  onPaper,
  type P3,
  path,
  typedCorners,
  upright,
  type View,
  VIEWS,
  windowOf,
} from "../src/clearance/figures";

const POINT: P3 = [4200, -120, 310];

describe("views", () => {
  it("shows water line up, right butt line down from above and right from behind", () => {
    expect(onPaper("side", POINT)).toEqual([4200, -310]);
    expect(onPaper("top", POINT)).toEqual([4200, -120]);
    expect(onPaper("behind", POINT)).toEqual([-120, -310]);
  });
  it("goes back from the paper, keeping what the view does not show", () => {
    for (const view of VIEWS) {
      const [x, y] = onPaper(view, POINT);
      expect(fromPaper(view, [x, y], POINT)).toEqual(POINT);
      const moved = fromPaper(view, [x + 10, y], POINT);
      expect(moved.filter((v, n) => v !== POINT[n])).toHaveLength(1);
    }
    expect(fromPaper("side", [4300, -200], POINT)).toEqual([4300, -120, 200]);
  });
  it("labels what is upright as it is, not as the paper has it", () => {
    expect(upright("side", -310)).toBe(310);
    expect(upright("top", -120)).toBe(-120);
  });
  it("draws a line from its first corner on", () => {
    expect(path("side", [POINT, [4300, 0, 400]])).toBe("M4200.0 -310.0L4300.0 -400.0");
  });
});

describe("windows", () => {
  const points: P3[] = [
    [0, 0, 0],
    [1000, 500, 200],
  ];
  it("hold all points with room, as wide to high as asked", () => {
    for (const view of VIEWS as readonly View[])
      for (const ratio of [0.5, 1, 3]) {
        const w = windowOf(view, points, ratio, 40);
        expect(w.w / w.h).toBeCloseTo(ratio);
        for (const p of points) {
          const [x, y] = onPaper(view, p);
          expect(x - w.x).toBeGreaterThanOrEqual(39.999);
          expect(w.x + w.w - x).toBeGreaterThanOrEqual(39.999);
          expect(y - w.y).toBeGreaterThanOrEqual(39.999);
          expect(w.y + w.h - y).toBeGreaterThanOrEqual(39.999);
        }
      }
  });
  it("lie about a place", () => {
    const w = about("top", POINT, 60, 1.5);
    expect([w.x + w.w / 2, w.y + w.h / 2]).toEqual([4200, -120]);
    expect([w.w, w.h]).toEqual([180, 120]);
  });
});

describe("sections", () => {
  const line: P3[] = [
    [0, 0, 0],
    [100, 50, 0],
    [100, 50, 80],
    [200, 50, 180],
  ];
  it("cut each leg where it passes the station", () => {
    expect(cut([line], 50)).toEqual([[25, 0]]);
    expect(cut([line], 150)).toEqual([[50, 130]]);
  });
  it("tell a corner once, and a leg that lies in the plane by its middle", () => {
    expect(cut([line], 100)).toEqual([
      [50, 0],
      [50, 40],
      [50, 80],
    ]);
  });
  it("find nothing beyond its ends", () => {
    expect(cut([line], 201)).toEqual([]);
    expect(cut([], 50)).toEqual([]);
  });
});

describe("layers and figures", () => {
  it("lie fluids under cables under wires", () => {
    const of = (kind: string) => ({ kind }) as ClearanceThing;
    const kinds = ["coax", "fuel", "structure", "control cable", "control rod", "exhaust"];
    const sorted = kinds.map(of).sort(byLayer);
    expect(sorted.map((t) => t.kind)).toEqual([
      "structure",
      "fuel",
      "control rod",
      "control cable",
      "coax",
      "exhaust",
    ]);
    expect(layerOf("something new")).toBe("other");
  });
  it("types corners as a form takes them", () => {
    const typed = typedCorners([
      [1, 2.04, -3],
      [4, 5, 6.06],
    ]);
    expect(typed).toBe("1 mm; 2 mm; -3 mm; 4 mm; 5 mm; 6.1 mm");
  });
  it("says tenths while they matter, with a real minus", () => {
    expect(mm(-2.14)).toBe("−2.1");
    expect(mm(152.4)).toBe("152");
    expect(mm(99.94)).toBe("99.9");
  });
});
