import { assert, test } from "vitest";

import { inOneLine } from "../src/signoff/EntryItem";

const change = (name: string, how: string, was = "", now = "") => ({
  id: name,
  name,
  change: how as "changed",
  fields: [{ field: "as_typed", was, now }],
});

test("a stale signature says first in one line what changed", () => {
  const one = change("reading: Elevator up", "changed", "26.4", "27.1");
  assert.strictEqual(
    inOneLine([one]),
    "Since it was signed, reading: Elevator up was changed: 26.4 → 27.1.",
  );
  assert.strictEqual(
    inOneLine([change("requirement: Elevator down", "removed", "17.5"), one, one]),
    "Since it was signed, requirement: Elevator down was removed, and 2 more.",
  );
  assert.strictEqual(inOneLine([]), "");
});
