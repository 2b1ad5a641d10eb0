import { assert, test } from "vitest";

import { titleOf } from "../src/app/title";
import { TRADES } from "../src/app/trades";

test("a page is called by what it shows, then by the aircraft", () => {
  for (const [path, want] of [
    ["", "Lane · Fenlark"],
    ["/controls/elevator", "Elevator travel · Fenlark"],
    ["/controls/elevator/linkage", "Elevator linkage · Fenlark"],
    ["/cables/rudder", "Rudder cables · Fenlark"],
    ["/closures/aft-top-skin", "Aft top skin · Fenlark"],
    ["/bays/nose", "Nose · Fenlark"],
    ["/loose-ends", "Loose ends · Fenlark"],
    ["/nowhere", "Fenlark"],
  ] as const)
    assert.strictEqual(titleOf(path, "Fenlark"), want);
});

test("no two pages of an aircraft have the same title", () => {
  const titles = TRADES.map((t) => titleOf(`/${t.to}`, "Fenlark"));
  assert.strictEqual(new Set(titles).size, TRADES.length);
});
