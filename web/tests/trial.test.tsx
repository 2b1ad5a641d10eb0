import { act, renderHook } from "@testing-library/react";
import { assert, describe, test } from "vitest";

import { useTrial } from "../src/kit/useTrial";
import { chance } from "./near";
import { promised } from "./server";

type Document = { points: number[] };
type Tried = { document: Document };

const kept: Document = { points: [1, 2] };

function trial() {
  const under: {
    document: Document;
    more: string;
    keep: (t: Tried) => void;
    fail: (e: unknown) => void;
  }[] = [];
  const work = (document: unknown, more = "") => {
    const { promise, keep, fail } = promised<Tried>();
    under.push({ document: document as Document, more, keep, fail });
    return promise;
  };
  const { result, rerender } = renderHook(
    ({ version }) => useTrial(work, (t: Tried | null) => t?.document ?? kept, version),
    { initialProps: { version: 4 } },
  );
  const end = async (n: number, how: "keep" | "fail" = "keep") => {
    const one = under[n];
    assert.ok(one);
    await act(async () => {
      if (how === "keep") one.keep({ document: one.document });
      else one.fail(new Error(`refused ${n}`));
      await Promise.resolve();
    });
  };
  return { under, result, end, rerender };
}

describe("a trial", () => {
  test("changes a copy: what is kept stays as it was, and nothing shows before the answer", async () => {
    const { under, result, end } = trial();
    act(() => void result.current.change((d) => d.points.push(3), "elevator"));
    assert.deepEqual(kept, { points: [1, 2] });
    assert.deepEqual(under[0]?.document, { points: [1, 2, 3] });
    assert.strictEqual(under[0]?.more, "elevator");
    assert.isNull(result.current.tried);
    await end(0);
    assert.deepEqual(result.current.current(), { points: [1, 2, 3] });
  });

  test("a further change stands on the one before", async () => {
    const { under, result, end } = trial();
    act(() => void result.current.change((d) => d.points.push(3)));
    await end(0);
    act(() => void result.current.change((d) => d.points.shift()));
    assert.deepEqual(under[1]?.document, { points: [2, 3] });
    await end(1);
    assert.deepEqual(result.current.tried?.document, { points: [2, 3] });
  });

  test("a change stands on one that is not answered yet, and nothing may be kept meanwhile", async () => {
    const { under, result, end } = trial();
    assert.isFalse(result.current.busy);
    act(() => void result.current.change((d) => d.points.push(3)));
    act(() => void result.current.change((d) => d.points.push(4)));
    assert.deepEqual(under[1]?.document, { points: [1, 2, 3, 4] });
    await end(0);
    assert.isTrue(result.current.busy);
    await end(1);
    assert.isFalse(result.current.busy);
    assert.deepEqual(result.current.tried?.document, { points: [1, 2, 3, 4] });
    act(() => void result.current.change((d) => d.points.pop()));
    await end(2, "fail");
    assert.isFalse(result.current.busy);
    assert.deepEqual(result.current.current(), { points: [1, 2, 3, 4] });
  });

  test("is of the version it began on, also where something newer is kept meanwhile", async () => {
    const { result, end, rerender } = trial();
    act(() => void result.current.change((d) => d.points.push(3)));
    await end(0);
    rerender({ version: 5 });
    act(() => void result.current.change((d) => d.points.push(4)));
    await end(1);
    assert.strictEqual(result.current.version, 4);
    act(() => result.current.leave());
    assert.strictEqual(result.current.version, 5);
  });

  test("a refusal is shown, and what was worked out before it stays", async () => {
    const { result, end } = trial();
    act(() => void result.current.attempt({ points: [5] }));
    await end(0);
    act(() => void result.current.attempt({ points: [] }));
    await end(1, "fail");
    assert.strictEqual((result.current.error as Error).message, "refused 1");
    assert.deepEqual(result.current.current(), { points: [5] });
    act(() => void result.current.attempt({ points: [6] }));
    await end(2);
    assert.isNull(result.current.error);
  });

  test("left, it is as before, and an answer that comes late changes nothing", async () => {
    const { result, end } = trial();
    act(() => void result.current.attempt({ points: [5] }));
    act(() => result.current.leave());
    await end(0);
    assert.isNull(result.current.tried);
    act(() => void result.current.attempt({ points: [6] }));
    act(() => result.current.leave());
    await end(1, "fail");
    assert.isNull(result.current.error);
    assert.deepEqual(result.current.current(), kept);
  });

  test("tells each caller its own answer, null where it was refused", async () => {
    const { result, end } = trial();
    const answers: (Tried | null)[] = [];
    act(() => {
      for (const n of [7, 8])
        void result.current.attempt({ points: [n] }).then((t) => answers.push(t));
    });
    await end(0, "fail");
    await end(1);
    assert.deepEqual(answers, [null, { document: { points: [8] } }]);
  });

  test("of several under way the last asked counts, in whatever order they are answered", async () => {
    const next = chance(11);
    for (let round = 0; round < 60; round++) {
      const { result, end } = trial();
      const count = 2 + Math.floor(next() * 4);
      act(() => {
        for (let n = 0; n < count; n++) void result.current.attempt({ points: [n] });
      });
      const left = [...Array(count).keys()];
      const how: Record<number, "keep" | "fail"> = {};
      while (left.length) {
        const n = left.splice(Math.floor(next() * left.length), 1)[0] ?? 0;
        await end(n, (how[n] = next() < 0.3 ? "fail" : "keep"));
      }
      const last = count - 1;
      if (how[last] === "keep") {
        assert.deepEqual(result.current.tried?.document, { points: [last] });
        assert.isNull(result.current.error);
      } else {
        assert.isNull(result.current.tried);
        assert.strictEqual((result.current.error as Error).message, `refused ${last}`);
      }
    }
  });
});
