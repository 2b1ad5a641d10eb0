import { assert, beforeEach, describe, test, vi } from "vitest";

import { LOST, promised, serve, Status } from "./server";

// Loaded anew for each test, as a reload of the page does.
let box: typeof import("../src/app/outbox");
let api: typeof import("../src/app/api");

const reload = async () => {
  vi.resetModules();
  api = await import("../src/app/api");
  box = await import("../src/app/outbox");
};
const stored = () =>
  JSON.parse(localStorage.getItem("ashlane.unsent") ?? "[]") as { key: string }[];
const failed = (work: Promise<unknown>) =>
  work.then(
    () => assert.fail("it was answered"),
    (e: unknown) => e as InstanceType<typeof api.Problem>,
  );
const post = (body: unknown = { value: "26.4" }, label = "elev up 26.4") =>
  box.post("/api/aircraft/moorhen/readings", body, label, "odile");

beforeEach(reload);

describe("a write", () => {
  test("is in the store before it is on its way, and gone once it is answered", async () => {
    let during = 0;
    const asked = serve(() => {
      during = stored().length;
      return { id: 7 };
    });
    assert.deepEqual(await post(), { id: 7 });
    assert.strictEqual(during, 1);
    assert.deepEqual(stored(), []);
    assert.strictEqual(asked[0]?.method, "POST");
    assert.deepEqual(asked[0]?.body, { value: "26.4" });
    assert.match(asked[0]?.key ?? "", /^[0-9a-f]{32}$/);
  });

  test("whose answer is lost is kept, and sent again under the same key after a reload", async () => {
    const asked = serve(() => (asked.length < 3 ? LOST : { id: 7 }));
    assert.strictEqual((await failed(post())).status, 0);
    const [left] = stored();
    await reload();
    assert.deepEqual(stored(), [left]);
    await failed(box.again(left as never));
    assert.deepEqual(await box.again(left as never), { id: 7 });
    assert.strictEqual(new Set(asked.map((a) => a.key)).size, 1);
    assert.strictEqual(asked.length, 3);
    assert.deepEqual(stored(), []);
  });

  test("that the server refuses is answered; one that broke the server is not", async () => {
    for (const [status, left] of [
      [400, 0],
      [403, 0],
      [409, 0],
      [422, 0],
      [499, 0],
      [500, 1],
      [502, 2],
      [503, 3],
    ] as const) {
      serve(
        () => new Status(status, { title: "No.", errors: [{ field: "value", reason: "too far" }] }),
      );
      const why = await failed(post());
      assert.strictEqual(why.status, status);
      assert.strictEqual(why.message, "No.");
      assert.strictEqual(why.reason("value"), "too far");
      assert.isUndefined(why.reason("zero"));
      assert.strictEqual(stored().length, left, String(status));
    }
  });

  test("one of several goes, the others stay", async () => {
    const ends = [promised(), promised(), promised()];
    const asked = serve(() => ends[asked.length - 1]?.promise);
    const sent = [post(1, "one"), post(2, "two"), post(3, "three")];
    await vi.waitFor(() => assert.strictEqual(asked.length, 3));
    assert.strictEqual(new Set(stored().map((u) => u.key)).size, 3);
    ends[1]?.keep({});
    await sent[1];
    assert.deepEqual(
      stored().map((u) => (u as unknown as { label: string }).label),
      ["one", "three"],
    );
    ends[0]?.keep({});
    ends[2]?.keep({});
    await Promise.all(sent);
    assert.deepEqual(stored(), []);
  });

  test("can be another than POST, and is that again when it is offered again", async () => {
    const asked = serve(() => (asked.length < 2 ? LOST : {}));
    await failed(box.post("/api/aircraft/moorhen/rods/1", {}, "rod out", "odile", "DELETE"));
    await box.again(stored()[0] as never);
    assert.deepEqual(
      asked.map((a) => a.method),
      ["DELETE", "DELETE"],
    );
  });

  test("carries the token of this page", async () => {
    const asked = serve(() => ({}));
    await post();
    api.setToken("t0ken");
    await post();
    assert.deepEqual(
      asked.map((a) => a.token),
      ["", "t0ken"],
    );
  });
});

describe("what is in the store", () => {
  test("and is nonsense is no hindrance", async () => {
    for (const nonsense of ["{", '"x"', "null", "7"]) {
      localStorage.setItem("ashlane.unsent", nonsense);
      await reload();
      serve(() => ({}));
      await post();
      assert.deepEqual(stored(), []);
    }
  });

  test("is gone after signing out, drafts and all, and only the person's own was counted", async () => {
    serve(() => LOST);
    await failed(post());
    await failed(box.post("/x", {}, "another's", "ansel"));
    box.draft.keep("entry.moorhen", "elev up");
    localStorage.setItem("ashlane.keys", "off");
    assert.deepEqual(
      [box.unsentOf("odile"), box.unsentOf("ansel"), box.unsentOf("ines")],
      [1, 1, 0],
    );
    box.emptied();
    assert.deepEqual(stored(), []);
    assert.strictEqual(box.draft.read("entry.moorhen"), "");
    assert.strictEqual(box.unsentOf("odile"), 0);
    assert.strictEqual(localStorage.getItem("ashlane.keys"), "off");
    await reload();
    assert.strictEqual(box.unsentOf("odile"), 0);
  });

  test("a draft comes back after a reload and goes when it is empty", async () => {
    box.draft.keep("entry.moorhen", "elev up 26");
    await reload();
    assert.strictEqual(box.draft.read("entry.moorhen"), "elev up 26");
    assert.strictEqual(box.draft.read("entry.fenlark"), "");
    box.draft.keep("entry.moorhen", "");
    assert.strictEqual(box.draft.read("entry.moorhen"), "");
    assert.strictEqual(localStorage.length, 0);
  });
});

describe("what the server says", () => {
  test("that is no JSON is told as a failure of the server, with its number", () => {
    for (const text of ["<html>", "", "null", '"x"', "7"]) {
      const problem = api.Problem.of(502, text);
      assert.include(problem.message, "The server failed (502)");
      assert.deepEqual(problem.errors, []);
    }
    assert.strictEqual(api.Problem.of(418, "{}").message, "Refused (418)");
    const said = api.Problem.of(409, '{"title": "Late.", "theirs": {"low": 3}}');
    assert.deepEqual([said.message, said.theirs], ["Late.", { low: 3 }]);
  });

  test("nothing is not taken for something", async () => {
    const why = await failed(api.got(Promise.resolve({})));
    assert.include(why.message, "answered nothing");
    assert.strictEqual(await api.got(Promise.resolve({ data: 0 })), 0);
  });

  test("reading has no key, writing has a new one each time", async () => {
    const asked = serve(() => ({ results: [] }));
    await api.send("/api/aircraft");
    await api.send("/api/session", { method: "POST" });
    await api.send("/api/session", { method: "POST" });
    await api.send("/api/session", { method: "POST", headers: { "Idempotency-Key": "mine" } });
    const keys = asked.map((a) => a.key);
    assert.strictEqual(keys[0], "");
    assert.strictEqual(keys[3], "mine");
    assert.strictEqual(new Set(keys).size, 4);
  });
});
