import { render } from "@testing-library/react";
import { assert, describe, test } from "vitest";

import type { Requirement } from "../src/app/api";
import { noConditions, told } from "../src/controls/HowMeasured";
import { lost, Standing } from "../src/controls/Standing";

const one = (conflict: object | null, verdict = "too close") =>
  ({ id: 7, result: { verdict, conflict } }) as unknown as Requirement;
const sides = [
  { requirement: 7, verdict: "in" },
  { requirement: 9, verdict: "out" },
];
const words = (q: Requirement) => render(<Standing q={q} />).container.textContent;

describe("how a requirement stands", () => {
  test("alone by its verdict", () => {
    assert.strictEqual(words(one(null, "out")), "Out");
  });

  test("in a conflict by its own verdict, with the word that sources disagree", () => {
    assert.strictEqual(words(one({ decided: null, sides })), "In by this one; sources disagree");
  });

  test("chosen by its verdict, not chosen by none", () => {
    assert.strictEqual(words(one({ decided: 7, sides }, "in")), "In");
    assert.isFalse(lost(one({ decided: 7, sides })));
    assert.strictEqual(words(one({ decided: 9, sides }, "out")), "Does not count");
    assert.isTrue(lost(one({ decided: 9, sides })));
    assert.isFalse(lost(one(null)));
  });
});

describe("conditions", () => {
  test("that nobody said are not sent; those that were said are, yes or no", () => {
    const nothing = told(noConditions);
    assert.notProperty(nothing, "gust_locks_out");
    assert.notProperty(nothing, "cables_tensioned");
    const some = told({
      ...noConditions,
      gust_locks_out: "no",
      cables_tensioned: "yes",
      gap: "0.4 mm",
    });
    assert.deepInclude(some, { gust_locks_out: false, cables_tensioned: true, gap: "0.4 mm" });
  });
});
