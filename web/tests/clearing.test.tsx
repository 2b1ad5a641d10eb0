import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { assert, describe, test } from "vitest";

import { ClearancePage } from "../src/clearance/ClearancePage";
import { page } from "./page";
import { type Asked, serve, Status } from "./server";

const LINE = [
  [
    [1000, 0, 100],
    [2000, 0, 100],
  ],
];
const thing = (name: string, kind: string, more: object = {}) => ({
  key: `shape ${name}`,
  name,
  kind,
  od: 10,
  lines: LINE,
  ends: [],
  moves: false,
  box: false,
  link: "clearance?part=shapes",
  keep: "clearance",
  row: name.toLowerCase(),
  ...more,
});
const pair = (a: string, b: string, gap: number, verdict: string, more: object = {}) => ({
  key: `${a}|${b}`,
  a,
  b,
  name: `${a} – ${b}`,
  verdict,
  state: verdict,
  gap,
  bare: gap,
  low: gap,
  rule: 50,
  rule_said: "fuel – wire: 50.0 mm (Manual, page 3)",
  at: "Elevator 12.0°",
  place: [1500, 0, 120],
  moves: true,
  acceptable: false,
  check: { key: "k", said: `${gap} mm apart; at least 50 mm.`, verdict, why: null },
  events: [],
  why: "",
  ...more,
});
const data = (more: object = {}) => ({
  count: 1,
  results: [
    {
      slug: "loom",
      kind: "shape",
      name: "Loom",
      version: 3,
      typed: { sort: "wire", form: "line", corners: [] },
      source: null,
      page: "",
      said: "",
    },
  ],
  kinds: [],
  once: [],
  verdict: "out",
  checks: [],
  things: [
    thing("Loom", "wire"),
    thing("Feed", "fuel"),
    thing("Rod", "control rod", { moves: true }),
  ],
  pairs: [
    pair("Feed", "Loom", -2, "out"),
    pair("Feed", "Rod", 30, "out", { acceptable: true }),
    pair("Loom", "Rod", 80, "in"),
  ],
  axes: [],
  zones: [],
  apart: [],
  bodies: [],
  left: [{ why: "held by the same lever", pairs: ["Rod – Arm"] }],
  layers: ["Loom lies 5 mm lower than Rudder cable at station 1500."],
  far: 152.4,
  unsaid: [],
  caution: "Move every control by hand.",
  cautions: ["Hot gas.", "", ""],
  ...more,
});
const frame = (gap: number, said: string) => ({ said, gap, a: LINE, b: LINE });
const film = (key: string) => ({
  pair: data().pairs.find((p) => p.key === key),
  worst: frame(-2, ""),
  reels: [
    {
      axis: "elevator/pitch",
      name: "Elevator",
      positive: "stick aft",
      said: "what is permitted",
      frames: [frame(40, "−19.0°"), frame(12, "0.0°"), frame(-2, "12.0°"), frame(9, "26.0°")],
    },
  ],
  on_a: [1500, 0, 118],
  on_b: [1500, 0, 122],
  od_a: 10,
  od_b: 10,
});
const aircraft = { slug: "moorhen", may: ["measure"], bays: [], length_unit: "mm" };

function shown(at = "/a/moorhen/clearance", answers: object = {}, from: object = data()) {
  const asked = serve((one: Asked) => {
    const end = one.path.split("/clearance")[1] ?? "";
    if (end in answers) return (answers as Record<string, (a: Asked) => unknown>)[end]?.(one);
    return end === "/film" ? film("Feed|Loom") : from;
  });
  return { asked, ...page(<ClearancePage />, at, { aircraft }) };
}
const table = async () => within(await screen.findByRole("table", { name: "Near pairs" }));

describe("near pairs", () => {
  test("how many touch and are too near stands first; what is clear is folded", async () => {
    shown();
    const said = (await screen.findByLabelText("How it stands")).textContent ?? "";
    assert.match(said, /1\s*pair touches.*1\s*is too near.*1\s*clear/);
    const rows = await table();
    assert.isNull(rows.queryByText("Loom – Rod"));
    assert.ok(rows.getByText("touch"));
    await userEvent.click(screen.getByRole("button", { name: /And 1 that keep/ }));
    assert.ok((await table()).getByText("Loom – Rod"));
    assert.ok(screen.getByText(/1 not looked at: held by the same lever/));
    assert.ok(screen.getByText(/wires over cables over fluid lines: 1 lie otherwise/));
  });

  test("nothing near says what to enter", async () => {
    shown("/a/moorhen/clearance", {}, data({ pairs: [], things: [], left: [] }));
    assert.ok(await screen.findByText(/Nothing comes near anything else yet/));
  });

  test("a layer that is off is not drawn", async () => {
    shown();
    const side = await screen.findByRole("img", { name: "All that takes room, side" });
    const before = side.querySelectorAll(".of-wires").length;
    await userEvent.click(screen.getByLabelText("Wires"));
    assert.strictEqual(before, 1);
    assert.strictEqual(side.querySelectorAll(".of-wires").length, 0);
  });
});

describe("the film", () => {
  test("begins at the worst and follows the slider, never by itself", async () => {
    shown();
    const reel = await screen.findByRole("region", { name: "Film" });
    const now = () => reel.querySelector(".clear-now")?.textContent ?? "";
    assert.match(now(), /Touch.*at its worst/);
    const slider = within(reel).getByRole("slider");
    assert.strictEqual((slider as HTMLInputElement).value, "2");
    fireEvent.change(slider, { target: { value: "0" } });
    assert.match(now(), /40\.0 mm.*−19\.0°/);
    await new Promise((wake) => setTimeout(wake, 60));
    assert.match(now(), /40\.0 mm/);
    await userEvent.click(within(reel).getByRole("button", { name: "Back to the worst" }));
    assert.match(now(), /Touch/);
  });
});

describe("what is done about a pair", () => {
  test("a refusal of a measured gap stands in its form, and nothing is lost", async () => {
    const { asked } = shown("/a/moorhen/clearance", {
      "/pairs": () => new Status(422, { title: "u: must be greater than zero", status: 422 }),
    });
    await screen.findByRole("region", { name: "Film" });
    await userEvent.click(screen.getByText("Measure it with a feeler or gauge"));
    await userEvent.type(screen.getByLabelText("Smallest gap *"), "3 mm");
    await userEvent.type(screen.getByLabelText("Good to ± *"), "0");
    await userEvent.click(screen.getByRole("button", { name: "Keep the gap" }));
    await waitFor(() => assert.match(screen.getByRole("alert").textContent ?? "", /greater/));
    assert.strictEqual(screen.getByLabelText<HTMLInputElement>("Smallest gap *").value, "3 mm");
    const sent = asked.find((a) => a.method === "POST")?.body as Record<string, string>;
    assert.deepInclude(sent, { doing: "measured", a: "Feed", b: "Loom", gap: "3 mm", u: "0" });
  });

  test("only what may be accepted can be", async () => {
    shown();
    await screen.findByRole("region", { name: "Film" });
    assert.isNull(screen.queryByText("Accept it knowingly"));
    await userEvent.click((await table()).getByRole("button", { name: "Feed – Rod" }));
    assert.ok(await screen.findByText("Accept it knowingly"));
  });

  test("a corner typed elsewhere is worked out, and kept as typed where it is a shape", async () => {
    const { asked } = shown("/a/moorhen/clearance", {
      "/move": () => ({
        lines: LINE,
        pairs: [
          {
            key: "k",
            name: "Feed – Loom",
            gap: 61,
            rule: 50,
            verdict: "in",
            said: "",
            was: -2,
            was_verdict: "out",
          },
        ],
      }),
      "/rows/loom": () => data().results[0],
    });
    await screen.findByRole("region", { name: "Film" });
    await userEvent.click(screen.getByRole("button", { name: "Try Loom elsewhere" }));
    const part = within(screen.getByRole("region", { name: "Loom elsewhere" }));
    assert.isTrue(part.getByRole<HTMLButtonElement>("button", { name: "Keep it there" }).disabled);
    fireEvent.change(part.getByLabelText("Corner 2, water line"), { target: { value: "170" } });
    await part.findByText("61.0");
    assert.ok(part.getByText("touch"));
    const moves = asked.filter((a) => a.path.endsWith("/move")).map((a) => a.body);
    assert.deepInclude(moves, {
      thing: "Loom",
      corners: "1000 mm; 0 mm; 100 mm; 2000 mm; 0 mm; 170 mm",
    });
    await userEvent.click(part.getByRole("button", { name: "Keep it there" }));
    await waitFor(() => {
      const kept = asked.find((a) => a.method === "PATCH")?.body as {
        typed: { corners: object[] };
      };
      assert.deepEqual(kept?.typed.corners[1], { x: "2000 mm", y: "0 mm", z: "170 mm" });
    });
  });
});

describe("the section", () => {
  test("tells by number what passes at the plane, and follows it", async () => {
    const { router } = shown("/a/moorhen/clearance?part=section&at=1500");
    const rows = within(await screen.findByRole("table", { name: "What passes here" }));
    assert.strictEqual(rows.getAllByRole("row").length, 4);
    assert.ok(screen.getByText(/3 pass here/));
    fireEvent.change(screen.getByRole("slider"), { target: { value: "1000" } });
    await waitFor(() => assert.include(router.state.location.search, "at=1000"));
  });
});
