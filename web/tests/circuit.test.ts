/** A circuit as boxes and wires: from its bus past its protector, through what is mated. */
import { expect, test } from "vitest";

import type { HarnessRow } from "../src/app/api";
import { addressOf } from "../src/marks/words";
import { circuitGraph } from "../src/wires/circuitGraph";

const row = (kind: string, name: string, typed: object, more: object = {}) =>
  ({
    kind,
    name,
    slug: addressOf(name),
    typed,
    done: ["run"],
    length_m: 1.25,
    ...more,
  }) as unknown as HarnessRow;

const wires = [
  row("wire", "W3", { part: "return", from: "L1.2", to: "GB1.4", awg: "18" }, { done: [] }),
  row("wire", "W1", { part: "feed", from: "CB1.1", to: "P3.7", awg: "18", shield: "both" }),
  row("wire", "W2", { part: "feed", from: "J3.7", to: "L1.1", splices: "400" }),
];
const all = [
  row("bus", "Main bus", {}),
  row("connector", "P3", { mate: "J3" }),
  row("connector", "J3", { mate: "P3" }),
  ...wires,
];
const joined = (c: ReturnType<typeof circuitGraph>) =>
  (c.graph.edges ?? []).map((e) => `${e.sources[0] ?? ""} ${e.targets[0] ?? ""}`);

test("it begins at the only bus and goes on through what is mated", () => {
  const lamp = row("circuit", "Lamp", { protector: "breaker", protector_A: "5" });
  const drawn = circuitGraph(lamp, wires, all);
  expect(joined(drawn)).toEqual([
    "Main bus CB1.1",
    "CB1.1 P3.7",
    "J3.7 L1.1",
    "L1.2 GB1.4",
    "J3.7 P3.7",
  ]);
  expect(drawn.edges.get("protector")?.said).toEqual(["breaker 5 A"]);
  expect(drawn.edges.get("w1")?.said).toContain("shield grounded at both ends");
  expect(drawn.edges.get("w2")?.said).toEqual(["W2", "gauge not said, 1.25 m", "splice at 400"]);
  expect(drawn.edges.get("w3")?.open).toBe(true);
});

test("in whichever order its wires were entered, it begins at the breaker", () => {
  const lamp = row("circuit", "Lamp", { back: "structure" });
  const [, w1, w2] = wires as [HarnessRow, HarnessRow, HarnessRow];
  const drawn = joined(circuitGraph(lamp, [w2, w1], all));
  expect(drawn).toContain("Main bus CB1.1");
  expect(drawn).toContain("L1 structure");
});

test("by structure it ends in the structure, and an end that is not said is told", () => {
  const lamp = row("circuit", "Lamp", { back: "structure", bus: "Night bus" });
  const drawn = circuitGraph(lamp, [wires[1] as HarnessRow], all);
  expect(joined(drawn)).toContain("P3 structure");
  expect(joined(drawn)[0]).toBe("Night bus CB1.1");
  expect(drawn.edges.get("protector")?.said).toEqual(["no protector said"]);
  const loose = row("wire", "W9", { part: "signal" });
  expect(joined(circuitGraph(lamp, [loose], all))).toEqual([
    "W9 starts nowhere yet W9 ends nowhere yet",
  ]);
});
