import { fireEvent, render, screen } from "@testing-library/react";
import { assert, describe, test } from "vitest";

import type {
  Aircraft,
  Cables,
  Requirement,
  Sheet,
  Surface,
  TensionToday,
  Verdict,
} from "../src/app/api";
import { LaneFigure } from "../src/aircraft/LaneFigure";
import { TensionFigure } from "../src/cables/TensionFigure";
import { SurfaceFigure } from "../src/controls/SurfaceFigure";
import { VerdictMark } from "../src/marks/VerdictMark";
import { WORD } from "../src/marks/words";
import { chance, near } from "./near";
import { page } from "./page";

const VERDICTS = Object.keys(WORD) as Verdict[];
const figures = (d: string | null | undefined) =>
  (d ?? "").match(/-?\d+(\.\d+)?(e-?\d+)?/g)?.map(Number) ?? [];

describe("a verdict", () => {
  test("is told by word and by shape, never by colour alone", () => {
    const shapes = VERDICTS.map((v) => {
      const { container } = render(<VerdictMark verdict={v} />);
      assert.include(container.textContent, WORD[v]);
      return container.querySelector("svg")?.innerHTML;
    });
    assert.strictEqual(new Set(shapes).size, VERDICTS.length);
  });
});

describe("a surface", () => {
  const required = (more: object, result: object = {}) =>
    ({
      id: 1,
      surface: "s",
      kind: "travel",
      position: "up_stop",
      lo: 20,
      hi: 25,
      ...more,
      result: { value: null, U: null, verdict: "not measured", conflict: null, ...result },
    }) as unknown as Requirement;
  const drawn = (q: Requirement, positive = "trailing_edge_up") => {
    const surface = { slug: "s", name: "Elevator", positive, chord_mm: null } as unknown as Surface;
    const sheet = { requirements: [q] } as unknown as Sheet;
    return render(<SurfaceFigure surface={surface} sheet={sheet} chosen={q} choose={() => {}} />)
      .container;
  };
  /** The angle of a point about the hinge, trailing edge up positive. */
  const angle = (x: number, y: number) => (Math.atan2(-y, x - 170) * 180) / Math.PI;

  test("stands at its true angle, up for up and down for down", () => {
    const next = chance(5);
    for (let n = 0; n < 40; n++) {
      const value = Math.round(next() * 600) / 10;
      for (const [position, sign] of [
        ["up_stop", 1],
        ["down_stop", -1],
        ["right_stop", 1],
        ["left_stop", -1],
        ["detent 2", -1],
      ] as const) {
        const view = drawn(required({ position }, { value, U: 0.5, verdict: "in" }));
        const [, , x = 0, y = 0] = figures(view.querySelector(".measured")?.getAttribute("d"));
        near(angle(x, y), value * sign, 1e-9);
        const turned = figures(view.querySelector(".moving")?.getAttribute("transform"))[0];
        near(turned, -value * sign || 0, 1e-9);
      }
    }
  });

  test("a neutral's sign is that of the surface's own positive way", () => {
    for (const [positive, sign] of [
      ["trailing_edge_up", 1],
      ["trailing_edge_right", 1],
      ["trailing_edge_down", -1],
    ] as const) {
      const q = required(
        { kind: "neutral", position: "neutral", lo: -1, hi: 1 },
        { value: 0.6, U: 0.1, verdict: "in" },
      );
      const view = drawn(q, positive);
      const [, , x = 0, y = 0] = figures(view.querySelector(".measured")?.getAttribute("d"));
      near(angle(x, y), 0.6 * sign, 1e-9);
    }
  });

  test("its band runs from limit to limit, its spread over the uncertainty", () => {
    const view = drawn(required({ lo: 20, hi: 25 }, { value: 24, U: 0.8, verdict: "too close" }));
    for (const [part, from, to] of [
      [".band", 20, 25],
      [".spread", 23.2, 24.8],
    ] as const) {
      const all = figures(view.querySelector(part)?.getAttribute("d"));
      near(angle(all[0] ?? 0, all[1] ?? 0), from, 1e-9);
      near(angle(all.at(-2) ?? 0, all.at(-1) ?? 0), to, 1e-9);
    }
  });

  test("nothing is drawn as measured that was not, and the picture is told in words", () => {
    const view = drawn(required({}));
    for (const part of [".measured", ".spread", ".moving"]) assert.isNull(view.querySelector(part));
    const label = view.querySelector("svg")?.getAttribute("aria-label");
    assert.strictEqual(label, "Elevator. up: required 20° to 25°, Not measured");
  });

  test("what is drawn lies within the picture", () => {
    for (const value of [0, 12, 35, 60, 85]) {
      for (const position of ["up_stop", "down_stop"]) {
        const q = required(
          { position, lo: value, hi: value + 3 },
          { value, U: 0.5, verdict: "in" },
        );
        const view = drawn(q);
        const [, top = 0, , high = 0] = figures(view.querySelector("svg")?.getAttribute("viewBox"));
        const [, , , y = 0] = figures(view.querySelector(".measured")?.getAttribute("d"));
        assert.ok(y > top && y < top + high, `${position} ${value}`);
      }
    }
  });
});

describe("tension over temperature", () => {
  const of = (C: number) => 200 + 4 * C;
  const today = {
    unit: "N",
    temperature_C: 10,
    target_C: 15,
    target_N: 260,
    plus_N: 20,
    minus_N: 30,
    sides: [{ set_N: of(10) }],
    curves: [{ slack_C: -45, points: [-30, 0, 50].map((C) => [C, of(C)]) }],
  } as unknown as TensionToday;
  const reading = (more: object) => ({
    method: "gauge",
    temperature_C: 0,
    value: of(0),
    u: 8,
    side: "A",
    current: true,
    ...more,
  });
  const drawn = (...readings: object[]) => {
    const cables = {
      readings,
      sides: [
        { side: "A", name: "Left cable" },
        { side: "B", name: "Right cable" },
      ],
    };
    return render(<TensionFigure today={today} cables={cables as unknown as Cables} />).container;
  };
  const lineOf = (view: HTMLElement) => {
    const all = figures(view.querySelector(".tension-line")?.getAttribute("d"));
    return all.flatMap((x, i) => (i % 2 ? [] : [[x, all[i + 1] ?? 0] as const]));
  };

  test("what was measured at the set tension lies on the line, its bar as long as U", () => {
    const view = drawn(reading({}), reading({ side: "B", value: of(0) + 16 }));
    const [, [x0 = 0, y0 = 0] = []] = lineOf(view);
    const [a, b] = [...view.querySelectorAll("circle")];
    // The line is drawn to a tenth of a pixel.
    near(Number(a?.getAttribute("cy")), y0, 1e-3);
    near((Number(a?.getAttribute("cx")) + Number(b?.getAttribute("cx"))) / 2, x0, 1e-3);
    // U = 2u = 16 N: the other point lies just as much higher.
    const [, low = 0, high = 0] = figures(
      a?.parentElement?.querySelector("path")?.getAttribute("d"),
    );
    near(low - y0, y0 - high, 0.2);
    near(
      low - Number(a?.getAttribute("cy")),
      Number(a?.getAttribute("cy")) - Number(b?.getAttribute("cy")),
    );
    assert.strictEqual(view.querySelectorAll(".taken text")[1]?.textContent, "right");
  });

  test("more tension is higher, warmer is further right, and the band keeps its limits", () => {
    const line = lineOf(drawn());
    for (let i = 1; i < line.length; i++) {
      assert.ok((line[i]?.[0] ?? 0) > (line[i - 1]?.[0] ?? 0));
      assert.ok((line[i]?.[1] ?? 0) < (line[i - 1]?.[1] ?? 0));
    }
  });

  test("what no longer counts is shown as such and not named; a ruler's is not a tension", () => {
    const view = drawn(
      reading({ current: false }),
      reading({ method: "straight" }),
      reading({ temperature_C: null }),
    );
    assert.strictEqual(view.querySelectorAll(".taken").length, 1);
    assert.strictEqual(view.querySelectorAll(".taken-old").length, 1);
    assert.isNull(view.querySelector(".taken text"));
  });
});

describe("the lane", () => {
  const bay = (slug: string, start: number, end: number, more: object = {}) => ({
    slug,
    name: slug,
    part: "fuselage",
    start_m: start,
    end_m: end,
    x_m: [start, end],
    z_m: [0, 1],
    verdict: "in",
    open: 0,
    loose_ends: 0,
    ...more,
  });
  const lid = (slug: string, bays: string[], more: object = {}) => ({
    slug,
    name: slug,
    bays,
    above: true,
    closed: false,
    ready: false,
    permanent: false,
    ...more,
  });
  const aircraft = {
    slug: "moorhen",
    outline: {
      top: [
        [0, 0.6],
        [2, 1.2],
        [5, 0.5],
      ],
      bottom: [
        [0, 0.2],
        [2, 0],
        [5, 0.3],
      ],
      fin: [],
    },
    bays: [
      bay("nose", 0, 1.2, { verdict: "out", open: 3, loose_ends: 1 }),
      bay("cockpit", 1.2, 2.6),
      bay("tail", 2.6, 5, { loose_ends: 2 }),
    ],
    closures: [
      lid("deck", ["nose", "cockpit"]),
      lid("skin", ["cockpit", "tail"]),
      lid("floor", ["cockpit"], { above: false, ready: true }),
    ],
  } as unknown as Aircraft;
  const span = (p: Element | null | undefined) => {
    const all = figures(p?.getAttribute("points"));
    const xs = all.filter((_, i) => i % 2 === 0);
    return [Math.min(...xs), Math.max(...xs)] as const;
  };

  test("its bays lie end to end, as long as they are, and are told in words", () => {
    for (const tall of [false, true]) {
      const { container, unmount } = page(<LaneFigure aircraft={aircraft} tall={tall} />);
      const spans = [...container.querySelectorAll(".cell polygon")].map(span);
      assert.strictEqual(spans.length, 3);
      const scale = (spans[0]?.[1] ?? 0) - (spans[0]?.[0] ?? 0);
      spans.forEach(([from, to], i) => {
        if (i) near(from, spans[i - 1]?.[1] ?? NaN);
        const b = aircraft.bays[i];
        near((to - from) / scale, ((b?.end_m ?? 0) - (b?.start_m ?? 0)) / 1.2);
      });
      const names = screen.getAllByRole("button").map((b) => b.getAttribute("aria-label"));
      assert.strictEqual(names[0], "nose: Out, 3 open, 1 loose end");
      assert.strictEqual(names[2], "tail: In, 0 open, 2 loose ends");
      unmount();
    }
  });

  test("lids over one place are stacked, and one below is on the other side", () => {
    const { container } = page(<LaneFigure aircraft={aircraft} tall />);
    const lids = [...container.querySelectorAll(".lid")].map((l) => ({
      name: l.querySelector("title")?.textContent ?? "",
      shift: figures(l.getAttribute("transform"))[1] ?? 0,
    }));
    assert.deepEqual(
      lids.map((l) => l.name),
      ["deck: open, removable", "skin: open, removable", "floor: ready to close, removable"],
    );
    const [deck, skin, floor] = lids.map((l) => l.shift);
    assert.ok((skin ?? 0) < (deck ?? 0) && (deck ?? 0) < 0 && (floor ?? 0) > 0);
  });

  test("arrows step along the bays and stop at the ends; a press chooses and lets go", () => {
    const { router } = page(<LaneFigure aircraft={aircraft} />, "/a/moorhen?note=1");
    const chosen = () => new URLSearchParams(router.state.location.search).get("bay");
    const press = (key: string) => fireEvent.keyDown(screen.getByRole("group"), { key });
    const seen = [
      "ArrowRight",
      "ArrowRight",
      "ArrowRight",
      "ArrowRight",
      "ArrowLeft",
      "ArrowLeft",
      "ArrowLeft",
    ].map((key) => {
      press(key);
      return chosen();
    });
    assert.deepEqual(seen, ["nose", "cockpit", "tail", "tail", "cockpit", "nose", "nose"]);
    const [nose] = screen.getAllByRole("button");
    fireEvent.click(nose as Element);
    assert.isNull(chosen());
    fireEvent.keyDown(nose as Element, { key: " " });
    assert.strictEqual(chosen(), "nose");
    assert.include(router.state.location.search, "note=1");
  });
});
