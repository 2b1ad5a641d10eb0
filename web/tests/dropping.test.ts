import { assert, describe, test } from "vitest";

import { dropRod, goesWith } from "../src/controls/linkage/dropping";
import type { File } from "../src/controls/linkage/useLinkageTrial";

const DEMO = import.meta.glob<File>("../../demo/mechanisms/*.json", {
  eager: true,
  import: "default",
});
const read = (name: string) => structuredClone(DEMO[`../../demo/mechanisms/${name}.json`]) as File;
const FILES = Object.keys(DEMO).map((path) => path.replace(/^.*\/|\.json$/g, ""));

describe("a rod that is taken out", () => {
  test("takes what only moved through it, to the end of the chain", () => {
    const gone = goesWith(read("fenlark-elevator"), "mid");
    assert.deepEqual(gone.bodies, ["bellcrank", "elevator", "servo"]);
    assert.deepEqual(gone.rods, ["mid", "aft", "servo_rod"]);
    assert.deepEqual(gone.outputs, ["elevator"]);
    assert.includeMembers(gone.stops, ["elevator_up", "elevator_down"]);
    assert.notInclude(gone.stops, "stick_aft");
  });

  test("leaves a file in which nothing names what is gone, whatever rod it is", () => {
    assert.isAtLeast(FILES.length, 6);
    for (const name of FILES)
      for (const { id } of read(name).rods) {
        const file = read(name);
        dropRod(file, id);
        const bodies = new Set(file.bodies.map((b) => b.id));
        const rods = new Set(file.rods.map((r) => r.id));
        for (const b of file.bodies) {
          const by = b.driven_by as { rod?: string; body?: string };
          if (by.rod) assert.isTrue(rods.has(by.rod), `${name} ${id}: ${b.id}`);
          if (by.body) assert.isTrue(bodies.has(by.body), `${name} ${id}: ${b.id}`);
          if (b.carried_by) assert.isTrue(bodies.has(b.carried_by), `${name} ${id}: ${b.id}`);
        }
        for (const r of file.rods) {
          assert.isTrue(bodies.has(r.a.body) && bodies.has(r.b.body), `${name} ${id}: ${r.id}`);
        }
        for (const s of file.stops) assert.isTrue(bodies.has(s.body), `${name} ${id}: ${s.id}`);
        const outputs = Object.values(file.outputs as Record<string, { body: string }>);
        for (const o of outputs) assert.isTrue(bodies.has(o.body), `${name} ${id}: ${o.body}`);
        assert.isFalse(rods.has(id));
      }
  });
});
