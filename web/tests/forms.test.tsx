import { screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { assert, describe, test } from "vitest";

import type { Cables, Instrument, Joint, Sheet } from "../src/app/api";
import { CableForm } from "../src/cables/CableForm";
import { type FittingRow, fittingsOf, rowsOf } from "../src/cables/FittingRows";
import type { FittingFile } from "../src/cables/useCableTrial";
import { InstrumentForm } from "../src/controls/InstrumentForm";
import { JointForm } from "../src/hardware/JointForm";
import { SignPanel } from "../src/signoff/SignPanel";
import { chance } from "./near";
import { page } from "./page";
import { type Asked, serve, Status } from "./server";

const button = (name: string | RegExp) => screen.getByRole<HTMLButtonElement>("button", { name });
const field = (name: string) => screen.getByLabelText<HTMLInputElement>(name);
const written = (asked: Asked[]) => asked.filter((a) => a.method !== "GET");
const OWNER = {
  aircraft: { slug: "moorhen", may: ["measure", "change facts", "inspect"], bays: [], version: 1 },
};

const SOURCES = {
  results: [
    { id: 4, cited: "Manual C, rev. 2" },
    { id: 9, cited: "Drawing 27-01" },
  ],
};
const BOLTS = {
  results: [
    { id: 31, kind: "bolt", name: "long bolt" },
    { id: 32, kind: "nut", name: "castle nut" },
  ],
  compounds: [],
};

describe("a joint's form", () => {
  const joint = {
    slug: "bellcrank-bolt",
    version: 3,
    name: "Bellcrank bolt",
    part: "bellcrank",
    bay: "tail",
    control: "elevator",
    point_mm: [4100, -12.5, 350.125],
    stack: [
      { name: "lug", typed: "1/8 in" },
      { name: "bushing", typed: "6.1 mm" },
    ],
    bolt: 31,
    nut: 32,
    head_washers_mm: [],
    nut_washers_mm: [1.6, 0.8],
    torque_typed: "50 to 70 in-lb",
    torque_source: "Drawing 27-01",
    torque_page: "4",
    drag_nm: 0.9,
    device: "cotter",
    rotating: true,
    insert: "none",
    turned: "bolt",
    kept: { stack_tol: "0.1 mm", two_hands: true, compound: 8 },
    fit: {
      typed: {
        need: "press",
        hole: "12.7 mm",
        shaft: "12.71 mm",
        u_hole: "0.002 mm",
        u_shaft: "0.004 mm",
        clear_min: "",
        clear_max: "0.01 mm",
      },
    },
    metals: { a: "aluminium", b: "steel", remedy: "wet sealant", wet: true },
  } as unknown as Joint;
  const form = async (answer: unknown = { slug: "bellcrank-bolt", warnings: [] }) => {
    const done: string[] = [];
    const asked = serve(({ method, path }) => {
      if (method !== "GET") return answer;
      return path.endsWith("/sources")
        ? SOURCES
        : path.endsWith("/stock")
          ? BOLTS
          : { results: [{ slug: "elevator", name: "Elevator" }] };
    });
    page(<JointForm joint={joint} done={(slug) => done.push(slug)} />, "/", OWNER);
    await screen.findByRole("option", { name: "Drawing 27-01" });
    return { asked, done };
  };

  test("sends back as it was whatever nobody changed", async () => {
    const { asked, done } = await form();
    await userEvent.click(button("Keep"));
    await waitFor(() => assert.deepEqual(done, ["bellcrank-bolt"]));
    const [sent] = written(asked);
    assert.strictEqual(sent?.method, "PATCH");
    assert.deepInclude(sent?.body, {
      version: 3,
      name: "Bellcrank bolt",
      station: "4100 mm",
      butt_line: "-12.5 mm",
      water_line: "350.125 mm",
      layers: "lug 1/8 in; bushing 6.1 mm",
      nut_washers: "1.6 mm; 0.8 mm",
      torque: "50 to 70 in-lb",
      torque_source: 9,
      drag: "0.9 Nm",
      bolt: 31,
      nut: 32,
      device: "cotter",
      turned: "bolt",
      stack_tol: "0.1 mm",
      two_hands: true,
      compound: 8,
      metals: joint.metals,
      fit: (joint.fit as { typed: object }).typed,
    });
  });

  test("cannot be kept before the documents are there: the one that is named would be lost", () => {
    serve(() => new Promise(() => {}));
    page(<JointForm joint={joint} done={() => {}} />, "/", OWNER);
    assert.isTrue(button("Keep").disabled);
  });

  test("stays open with what is to be heeded, and closes when it was read", async () => {
    const { done } = await form({
      slug: "bellcrank-bolt",
      warnings: ["The grip ends in the lug."],
    });
    await userEvent.click(button("Keep"));
    await screen.findByText("Kept. The grip ends in the lug.");
    assert.deepEqual(done, []);
    await userEvent.click(button("Done"));
    assert.deepEqual(done, ["bellcrank-bolt"]);
  });
});

describe("what moves along with a cable", () => {
  test("comes back from its rows as it went in", () => {
    const next = chance(3);
    const kinds = ["turnbuckle", "terminal", "sleeve", "shackle"];
    for (let n = 0; n < 200; n++) {
      const mm = () => Math.round((next() * 9000 - 1000) * 1000) / 1e6;
      const low = mm();
      const one: FittingFile = {
        id: `item ${n}`,
        kind: kinds[n % 4] as string,
        at: [low, Math.round((low + next()) * 1e6) / 1e6],
        ...(next() < 0.5 ? { radius: Math.round(1 + next() * 9000) / 1e6 } : {}),
      };
      assert.deepEqual(fittingsOf(rowsOf([one])), [one]);
    }
  });

  test("a radius that nobody said is not written", () => {
    const row: FittingRow = { id: " link ", kind: "sleeve", from: "-12,5", to: "30", radius: " " };
    assert.deepEqual(fittingsOf([row]), [{ id: "link", kind: "sleeve", at: [-0.0125, 0.03] }]);
    assert.deepEqual(rowsOf(undefined), []);
  });
});

describe("what a cable consists of", () => {
  const side = (name: string) => ({
    name,
    construction: "7x19",
    diameter_in: 0.125,
    material: "galvanised",
    supports: [
      { id: "p", kind: "pulley", centre: [3, 0.1, 0.5], axis: [0, 0, 1], radius: 0.03, sense: 1 },
    ],
    fittings: [
      { id: "buckle", kind: "turnbuckle", at: [-0.2, 0.1], radius: 0.007 },
      { id: "eye", kind: "terminal", at: [4, 4.05] },
    ],
    turnbuckle: { threads_per_inch: [32, 32], showing: [2, 3], limit: 2.5 },
    ends: {
      A: {
        kind: "fork terminal",
        size: 0.0088,
        made_by: "supplier",
        pin: "cotter only",
        pin_source: "Drawing 9",
      },
      B: { kind: "not said" },
    },
    slide_on: [{ name: "boot", bore: 0.009 }],
    figures: { ae: "1 MN" },
  });
  const document = {
    format: "ash-lane cables",
    edition: 1,
    driver: {},
    driven: {},
    sides: { A: side("Left"), B: side("Right") },
    target: { tension: "30 lb" },
  };
  const cables = {
    control: "rudder",
    version: 5,
    document,
    sides: [{ side: "A", showing: [2, 3] }],
  } as unknown as Cables;

  test("is kept whole: nothing of it is lost, nothing invented, and the other cable is left alone", async () => {
    const asked = serve(() => ({}));
    page(<CableForm cables={cables} side="A" />, "/", OWNER);
    await userEvent.clear(screen.getAllByLabelText("Name")[0] as Element);
    await userEvent.type(screen.getAllByLabelText("Name")[0] as Element, "Port");
    await userEvent.click(button("Keep"));
    await waitFor(() => assert.strictEqual(written(asked).length, 1));
    const sent = written(asked)[0]?.body as { version: number; document: typeof document };
    const want = structuredClone(document);
    want.sides.A.name = "Port";
    const notSaid = { kind: "not said", made_by: "not said", pin: "not said", pin_source: "" };
    want.sides.A.ends.B = notSaid as never;
    assert.deepEqual(sent.document, want);
    assert.strictEqual(sent.version, 5);
    assert.strictEqual(document.sides.A.name, "Left");
  });
});

describe("an instrument", () => {
  const level = {
    id: 7,
    version: 2,
    name: "Level",
    kind: "angle",
    face: "full_360",
    accuracy_typed: "0.2°",
    resolution_typed: "0.05°",
    calibrated_on: "2027-01-05",
    calibration_due: "2028-01-05",
    address: "",
    overdue: false,
    live: false,
  } as unknown as Instrument;

  test("changed in one thing keeps all others", async () => {
    const asked = serve(({ method }) =>
      method === "GET" ? { count: 1, results: [level], addresses: [] } : level,
    );
    page(<InstrumentForm slug="moorhen" />, "/", OWNER);
    await userEvent.click(await screen.findByRole("button", { name: "Change Level" }));
    const due = screen.getAllByLabelText<HTMLInputElement>(
      "Calibration due",
    )[0] as HTMLInputElement;
    await userEvent.clear(due);
    await userEvent.type(due, "2029-02-03");
    await userEvent.click(button("Keep"));
    await waitFor(() => assert.strictEqual(written(asked).length, 1));
    assert.deepEqual(written(asked)[0]?.body, {
      name: "Level",
      kind: "angle",
      face: "full_360",
      accuracy: "0.2°",
      resolution: "0.05°",
      calibrated_on: "2027-01-05",
      calibration_due: "2029-02-03",
      address: "",
      version: 2,
    });
  });

  test("only who measures may add one", async () => {
    serve(() => ({ count: 1, results: [level], addresses: [] }));
    page(<InstrumentForm slug="moorhen" />, "/", { aircraft: { slug: "moorhen", may: [] } });
    await screen.findByText("Level");
    assert.isNull(screen.queryByRole("button"));
    assert.isNull(screen.queryByRole("form"));
  });
});

describe("signing", () => {
  const sheet = {
    slug: "elevator",
    name: "Elevator",
    sense_checks: [],
    sense_check: "Stick aft, trailing edge up",
  } as unknown as Sheet;
  let seen: Record<string, string> = { "reading/1": "aa" };
  const state = (can: string[]) => ({
    seen,
    dual: "none yet",
    dual_ok: false,
    entries: [],
    why_not: [],
    can,
  });
  const panel = async (can: string[], answer: unknown = {}) => {
    const asked = serve(({ method }) => (method === "GET" ? state(can) : answer));
    page(<SignPanel slug="moorhen" sheet={sheet} />, "/", OWNER);
    await screen.findByText("Dual inspection: none yet");
    return asked;
  };

  test("the password is sent once, gone at once, and kept nowhere", async () => {
    for (const answer of [{}, new Status(403, { title: "The password is wrong." })]) {
      const asked = await panel(["done"], answer);
      await userEvent.type(field("Your password again"), "s3cret-word");
      await userEvent.click(button("Sign as done"));
      await waitFor(() => assert.strictEqual(field("Your password again").value, ""));
      assert.deepEqual(written(asked)[0]?.body, {
        doing: "done",
        password: "s3cret-word",
        reason: "",
        seen,
      });
      assert.notInclude(JSON.stringify({ ...localStorage }), "s3cret-word");
      if (answer instanceof Status)
        assert.include(screen.getByRole("alert").textContent, "password is wrong");
      document.body.replaceChildren();
    }
  });

  test("what changed under it is told before it can be signed, and what was looked at is sent", async () => {
    seen = { "reading/1": "aa" };
    const asked = serve(({ method }) => (method === "GET" ? state(["done"]) : {}));
    const { client } = page(<SignPanel slug="moorhen" sheet={sheet} />, "/", OWNER);
    await screen.findByText("Dual inspection: none yet");
    seen = { "reading/1": "bb" };
    await client.invalidateQueries();
    await screen.findByText(/changed since you opened it/);
    assert.isNull(screen.queryByRole("form", { name: "Sign" }));
    await userEvent.click(button("I have looked again"));
    await userEvent.type(field("Your password again"), "x");
    await userEvent.click(button("Sign as done"));
    await waitFor(() => assert.strictEqual(written(asked).length, 1));
    assert.deepInclude(written(asked)[0]?.body, { seen: { "reading/1": "bb" } });
  });

  test("who may not sign is offered nothing, and refusing asks for its reason", async () => {
    await panel([]);
    assert.isNull(screen.queryByRole("form", { name: "Sign" }));
    document.body.replaceChildren();
    const asked = await panel(["inspected", "refuse"]);
    await userEvent.selectOptions(field("As") as unknown as Element, "Refuse to sign");
    await userEvent.type(field("Reason"), "cotter pin not bent");
    await userEvent.click(button("Refuse to sign"));
    await waitFor(() => assert.strictEqual(written(asked).length, 1));
    assert.deepInclude(written(asked)[0]?.body, { doing: "refuse", reason: "cotter pin not bent" });
  });

  test("a sense check is kept only once both were seen, and each answer is its own", async () => {
    const asked = await panel([]);
    const keep = button("Keep what I saw");
    assert.isTrue(keep.disabled);
    await userEvent.click(field("Yes, seen"));
    assert.isTrue(keep.disabled);
    await userEvent.click(field("Not free"));
    await userEvent.click(keep);
    await waitFor(() => assert.strictEqual(written(asked).length, 1));
    assert.deepEqual(written(asked)[0]?.body, { right_way: true, free: false, note: "" });
  });
});
