import { screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { assert, describe, test } from "vitest";

import { figure, labelOf, rowsOf, written } from "../src/marks/ruleWords";
import { Why } from "../src/marks/Why";
import { page } from "./page";
import { serve, Status } from "./server";

const SCHEMA = {
  properties: {
    lo: { type: ["number", "null"], description: "Low limit, or null." },
    readings: { type: "array", description: "The repeated readings." },
    chord_mm: { type: "number", description: "Hinge to edge.", "x-unit": "mm" },
    other: { type: "array", description: "Other contributions {u, nu}, in the unit of the value." },
    zeroed: { type: "boolean" },
    way: { type: "string", description: "How it was measured." },
  },
};

describe("the words of a rule", () => {
  test("a label is the description without what only a program asks", () => {
    assert.strictEqual(labelOf("lo", SCHEMA.properties.lo), "Low limit");
    assert.strictEqual(
      labelOf("other", SCHEMA.properties.other),
      "Other contributions, in the unit of the value",
    );
    assert.strictEqual(labelOf("u_x", { description: "Freedom; null: infinite." }), "Freedom");
    assert.strictEqual(labelOf("no_words", undefined), "no words");
  });

  test("numbers have six digits at most, a true minus, and powers where they are tiny", () => {
    const said = [26.123456789, -0.5, 0, 0.001, 0.00000966546, -1.5e-7, 2e12].map(figure);
    assert.deepEqual(said, [
      "26.1235",
      "−0.5",
      "0",
      "0.001",
      "9.66546\u00a0·\u00a010⁻⁶",
      "−1.5\u00a0·\u00a010⁻⁷",
      "2\u00a0·\u00a010¹²",
    ]);
  });

  test("lists, contributions, yes and no, and nested things read as words", () => {
    assert.strictEqual(written([26.4, -1]), "26.4; −1");
    assert.strictEqual(written([]), "none");
    assert.strictEqual(written(true), "yes");
    assert.strictEqual(written("edge_offset"), "edge offset");
    assert.strictEqual(written([{ u: 0.0144338, nu: null, name: "chord" }]), "chord 0.0144");
    const field = { properties: { id: { description: "Its name." } } };
    assert.strictEqual(written({ id: "fwd", gap: null, at_m: 2 }, field), "Its name: fwd, at m: 2");
  });

  test("only what was given is listed, in the rule's order, each with its unit", () => {
    const rows = rowsOf(
      SCHEMA,
      { chord_mm: 280, lo: 25, readings: [1, 2], zeroed: null },
      { lo: "°", readings: "°" },
    );
    assert.deepEqual(
      rows.map((r) => [r.name, r.text + r.unit]),
      [
        ["lo", "25°"],
        ["readings", "1; 2°"],
        ["chord_mm", "280\u00a0mm"],
      ],
    );
  });
});

describe("why this number", () => {
  const rule = {
    id: "controls.verdict",
    title: "A requirement against readings",
    purpose: "Is it in?",
    source: "A standard.",
    validity: "",
    caution: "In is about this measurement.",
    inputs: SCHEMA,
    outputs: { properties: { y: { type: "number", description: "The value judged." } } },
    cases: [],
  };
  const steps = [{ says: "Mean of 2 readings", worked: "(1 + 2) / 2", value: 1.5, unit: "°" }];
  const shares = [
    { name: "accuracy", u: 0.12, share: 0.9 },
    { name: "resolution", u: 0.04, share: 0.1 },
  ];
  const why = {
    rule: "controls.verdict",
    inputs: { lo: 25, readings: [1, 2] },
    origins: { lo: "Drawing 27-01" },
    units: { "": "°" },
  };
  const open = async (working: unknown) => {
    const asked = serve(({ path }) => (path.endsWith("/working") ? working : rule));
    page(<Why why={why} />);
    await userEvent.click(screen.getByRole("button", { name: "Why this number?" }));
    const panel = await screen.findByRole("dialog");
    return { asked, panel };
  };

  test("tells steps, shares, inputs with their origin, source and caution", async () => {
    const { asked, panel } = await open({ answer: { y: 1.5 }, steps, shares });
    await waitFor(() => assert.include(panel.textContent, "(1 + 2) / 2 = 1.5°"));
    for (const said of ["90 %", "0.12°", "Drawing 27-01", "A standard.", "In is about"])
      assert.include(panel.textContent, said);
    assert.notInclude(panel.textContent, "What came out");
    const sent = asked.find((a) => a.path.endsWith("/working"));
    assert.deepEqual(sent?.body, { inputs: why.inputs, units: why.units });
    const link = screen.getByRole<HTMLAnchorElement>("link", { name: /rule book/ });
    const to = new URL(link.href);
    assert.strictEqual(to.pathname, "/rules/controls.verdict");
    assert.deepEqual(JSON.parse(to.searchParams.get("inputs") ?? ""), why.inputs);
    await userEvent.keyboard("{Escape}");
    await waitFor(() => assert.isNull(screen.queryByRole("dialog")));
  });

  test("a rule without written steps tells what came out", async () => {
    const { panel } = await open({ answer: { y: 1.5 }, steps: [], shares: [] });
    await waitFor(() => assert.include(panel.textContent, "What came out"));
    assert.include(panel.textContent, "The value judged");
  });

  test("what the rule refuses now is said", async () => {
    const { panel } = await open(new Status(422, { title: "lo: is above hi" }));
    await waitFor(() => assert.include(panel.textContent, "is above hi"));
  });

  test("nothing is offered where no rule gave it", () => {
    page(<Why why={null} />);
    assert.isNull(screen.queryByRole("button"));
  });
});
