/** A pasted or opened table, cell by cell. */
import { describe, expect, it } from "vitest";

import { cellsOf, withoutHead } from "../src/kit/cells";

describe("cells", () => {
  it("are parted by tabs, semicolons or commas, whichever comes first", () => {
    for (const text of ["a\tb\n1,5\t2\n", "a;b\r\n1,5;2"])
      expect(cellsOf(text)).toEqual([
        ["a", "b"],
        ["1,5", "2"],
      ]);
    expect(cellsOf("a,b\n1,2")).toEqual([
      ["a", "b"],
      ["1", "2"],
    ]);
  });
  it("in quotes hold what would part them, and a quote twice", () => {
    expect(cellsOf('"a, b",2\n"3 1/2""",x')).toEqual([
      ["a, b", "2"],
      ['3 1/2"', "x"],
    ]);
    expect(cellsOf('3 1/2"\tx')).toEqual([['3 1/2"', "x"]]);
    expect(cellsOf('"two\nlines";x')).toEqual([["two\nlines", "x"]]);
  });
  it("one line without a tab is what is typed into one cell", () => {
    expect(cellsOf("Left tank 0.5; Right tank 0.5")).toEqual([["Left tank 0.5; Right tank 0.5"]]);
  });
  it("keep empty ones in their place, and lose only line ends at the end", () => {
    expect(cellsOf("a\t\tc\n\t2\t\n\n")).toEqual([
      ["a", "", "c"],
      ["", "2", ""],
    ]);
  });
});

describe("a first line that says what the columns are", () => {
  const labels = ["Station *", "Arm, mm *", "At most, kg"];
  it("is left out, however it is written", () => {
    expect(
      withoutHead(
        [
          ["station", "arm (mm)", "at most, kg"],
          ["Pilot", "2550", "115"],
        ],
        labels,
      ),
    ).toEqual([["Pilot", "2550", "115"]]);
  });
  it("is kept where it is a row", () => {
    const rows = [["Pilot", "2550", "115"]];
    expect(withoutHead(rows, labels)).toEqual(rows);
    expect(withoutHead([["Station"]], labels)).toEqual([["Station"]]);
  });
});
