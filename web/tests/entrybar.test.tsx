import { fireEvent, screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { assert, beforeEach, describe, test } from "vitest";

import { EntryBar } from "../src/app/EntryBar";
import { forget, post } from "../src/app/outbox";
import { UnsentBar } from "../src/app/UnsentBar";
import { page, session } from "./page";
import { type Answering, type Asked, LOST, promised, serve as server, Status } from "./server";

const field = () => screen.getByRole<HTMLInputElement>("textbox", { name: "Entry bar" });
const said = () => screen.getByRole("status").textContent;

const reading = (line: string) => ({
  kind: "reading",
  said: `Elevator up, ${line}`,
  path: "controls/elevator/readings",
  body: { value: line },
  undo_path: "readings/{}/withdraw",
  undo_body: { reason: "mistyped" },
  preview: { result: { value: 26.4, U: 0.3, verdict: "in" } },
});

const EXAMPLES = { options: ["rudder left 12.5", "go nose"] };
/** What can be typed is asked by the way: it is answered, and of no matter here. */
const serve = (answer: Answering) => {
  const all = server((asked) => {
    if (!asked.path.endsWith("/entry/examples")) return answer(asked);
    all.splice(all.indexOf(asked), 1);
    return EXAMPLES;
  });
  return all;
};

const lines = (asked: Asked[]) => asked.filter((a) => a.path.endsWith("/entry"));
const bar = (at?: string) =>
  page(<EntryBar slug="moorhen" session={session} onHelp={() => {}} />, at);

describe("the entry bar", () => {
  test("shows what can be typed on this aircraft", async () => {
    serve(() => ({}));
    bar();
    await waitFor(() => assert.strictEqual(field().placeholder, "rudder left 12.5 · go nose"));
  });

  test("says what a torque would be judged as", async () => {
    const would = { verdict: "too close", said: "42 inlb; needs 3.39 to 4.52 N·m" };
    const torque = { kind: "joint", said: "Horn bolt: torqued", path: "", body: {}, would };
    serve(() => torque);
    bar();
    await userEvent.type(field(), "torque 42 inlb horn");
    await waitFor(() =>
      assert.include(said(), "torqued → 42 inlb; needs 3.39 to 4.52 N·m Too close to call"),
    );
  });

  test("says what a line means before it is kept, keeps it by Enter, and takes it back", async () => {
    const asked = serve(({ path, body }) =>
      path.endsWith("/entry")
        ? reading((body as { line: string }).line)
        : { readings: [{ id: 4 }, { id: 9 }] },
    );
    bar("/a/moorhen?bay=tail");
    await userEvent.type(field(), "elev up 26.4");
    await waitFor(() => assert.include(said(), "26.4° ± 0.3° In · Enter keeps it"));
    assert.deepEqual(lines(asked).at(-1)?.body, { line: "elev up 26.4", bay: "tail" });
    await userEvent.keyboard("{Enter}");
    await waitFor(() => assert.include(said(), "Kept: elev up 26.4"));
    assert.strictEqual(field().value, "");
    const kept = asked.find((a) => a.path === "/api/aircraft/moorhen/controls/elevator/readings");
    assert.deepEqual(kept?.body, { value: "elev up 26.4" });
    await userEvent.keyboard("{Control>}z{/Control}");
    await waitFor(() => assert.strictEqual(said(), ""));
    const undone = asked.at(-1);
    assert.strictEqual(undone?.path, "/api/aircraft/moorhen/readings/9/withdraw");
    assert.deepEqual(undone?.body, { reason: "mistyped" });
  });

  test("keeps nothing that it has not understood as it stands now", async () => {
    const slow = promised();
    const asked = serve(({ body }) =>
      (body as { line: string }).line === "elev up 26.4" ? reading("26.4") : slow.promise,
    );
    bar();
    await userEvent.type(field(), "elev up 26.4");
    await waitFor(() => assert.include(said(), "Enter keeps it"));
    await userEvent.type(field(), "9{Enter}");
    await waitFor(() => assert.strictEqual(lines(asked).length, 2));
    await userEvent.keyboard("{Enter}");
    assert.strictEqual(said(), "");
    assert.isTrue(asked.every((a) => a.path.endsWith("/entry")));
    slow.keep(reading("26.49"));
    await waitFor(() => assert.include(said(), "26.49"));
  });

  test("asks only once the typing rests", async () => {
    const asked = serve(() => reading("x"));
    bar();
    await userEvent.type(field(), "elev up 2");
    await waitFor(() => assert.include(said(), "Enter keeps it"));
    assert.strictEqual(asked.length, 1);
  });

  test("offers what several things could be meant, and takes the one that is picked", async () => {
    const which = { kind: "which", options: ["elev up 26", "elev down 26"] };
    const asked = serve(({ body }) =>
      (body as { line: string }).line === "elev 26" ? which : reading("26"),
    );
    bar();
    await userEvent.type(field(), "elev 26");
    const option = await screen.findByRole("button", { name: "elev down 26" });
    await userEvent.type(field(), "{Enter}");
    assert.strictEqual(lines(asked).length, asked.length);
    await userEvent.click(option);
    assert.strictEqual(field().value, "elev down 26");
    await waitFor(() => assert.include(said(), "Enter keeps it"));
  });

  test("a refused line stays with the reason", async () => {
    serve(({ path }) =>
      path.endsWith("/entry")
        ? reading("26")
        : new Status(422, { title: "value: is over 90°", errors: [] }),
    );
    bar();
    await userEvent.type(field(), "elev up 260");
    await waitFor(() => assert.include(said(), "Enter keeps it"));
    await userEvent.keyboard("{Enter}");
    await waitFor(() => assert.strictEqual(said(), "value: is over 90°"));
    assert.strictEqual(field().value, "elev up 260");
  });

  test("says why a line is not understood, in the words of its field", async () => {
    serve(
      () =>
        new Status(422, {
          title: "line: …",
          errors: [{ field: "line", reason: "no such surface" }],
        }),
    );
    bar();
    await userEvent.type(field(), "wing up 3");
    await waitFor(() => assert.strictEqual(said(), "no such surface"));
  });

  test("a jump goes there and leaves the line empty", async () => {
    serve(() => ({ kind: "jump", page: "controls/elevator", said: "Elevator" }));
    const { router } = bar();
    await userEvent.type(field(), "go elev");
    await waitFor(() => assert.include(said(), "Elevator · Enter"));
    await userEvent.keyboard("{Enter}");
    await waitFor(() =>
      assert.strictEqual(router.state.location.pathname, "/a/moorhen/controls/elevator"),
    );
    assert.strictEqual(field().value, "");
  });

  test("Tab completes, and again goes round what else it may be", async () => {
    const options = ["elevator ", "elevator trim "];
    serve(({ path }) =>
      path.endsWith("/completions") ? { options } : { kind: "which", options: [] },
    );
    bar();
    await userEvent.type(field(), "el");
    const seen = [];
    for (let n = 0; n < 4; n++) {
      const before = field().value;
      fireEvent.keyDown(field(), { key: "Tab" });
      await waitFor(() => assert.notStrictEqual(field().value, before));
      seen.push(field().value.trim());
    }
    assert.deepEqual(seen, ["elevator", "elevator trim", "elevator", "elevator trim"]);
  });

  test("what was typed is there after a reload, each aircraft its own", async () => {
    serve(() => reading("x"));
    const { unmount } = bar();
    await userEvent.type(field(), "loose gascolator : until");
    unmount();
    bar();
    assert.strictEqual(field().value, "loose gascolator : until");
    page(<EntryBar slug="fenlark" session={session} onHelp={() => {}} />);
    assert.strictEqual(screen.getAllByRole<HTMLInputElement>("textbox")[1]?.value, "");
  });
});

describe("what is not acknowledged", () => {
  const lose = async (label: string, path = "/api/aircraft/moorhen/notes", who = "odile") => {
    serve(() => LOST);
    await post(path, { label }, label, who).catch(() => null);
  };
  const listed = () => screen.queryAllByRole("listitem").map((li) => li.firstChild?.textContent);
  const unsent = () =>
    JSON.parse(localStorage.getItem("ashlane.unsent") ?? "[]") as { key: string }[];

  beforeEach(() => {
    // The module outlives a test: what it still holds goes.
    serve(() => LOST);
    return post("/x", {}, "x", "nobody")
      .catch(() => null)
      .then(() => unsent().forEach((u) => forget(u.key)));
  });

  test("is offered to whom it belongs, on its own aircraft", async () => {
    await lose("mine");
    await lose("another's", undefined, "ansel");
    await lose("of another aircraft", "/api/aircraft/fenlark/notes");
    page(<UnsentBar slug="moorhen" who="odile" />);
    assert.deepEqual(listed(), ["mine"]);
  });

  test("goes in the order it was typed, and stops at the first that fails", async () => {
    for (const n of ["one", "two", "three"]) await lose(n);
    const asked = serve(({ body }) => ((body as { label: string }).label === "two" ? LOST : {}));
    page(<UnsentBar slug="moorhen" who="odile" />);
    await userEvent.click(screen.getByRole("button", { name: "Send again" }));
    await waitFor(() => assert.deepEqual(listed(), ["two", "three"]));
    assert.deepEqual(
      asked.map((a) => (a.body as { label: string }).label),
      ["one", "two"],
    );
    assert.include(screen.getByRole("alert").textContent, "No connection");
    const rest = serve(() => ({}));
    await userEvent.click(screen.getByRole("button", { name: "Send again" }));
    await waitFor(() => assert.isNull(screen.queryByRole("list")));
    assert.strictEqual(rest.length, 2);
    assert.isNull(screen.queryByRole("alert"));
  });

  test("can be discarded, one by one", async () => {
    for (const n of ["one", "two"]) await lose(n);
    page(<UnsentBar slug="moorhen" who="odile" />);
    await userEvent.click(screen.getAllByRole("button", { name: "Discard" })[0] as HTMLElement);
    assert.deepEqual(listed(), ["two"]);
    assert.strictEqual(unsent().length, 1);
  });
});
