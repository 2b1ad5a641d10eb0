import { act, fireEvent, screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { assert, describe, test, vi } from "vitest";

import type { Instrument, Preview, Requirement, Sheet, Surface } from "../src/app/api";
import { LiveCapture } from "../src/app/LiveCapture";
import { CaptureRow } from "../src/controls/CaptureRow";
import { page } from "./page";
import { type Asked, LOST, promised, serve, Status } from "./server";

const LEVEL = { id: 3, name: "Level", kind: "angle", overdue: false, live: true, resolution: 0.05 };
const surface = { slug: "elevator", name: "Elevator", positive: "trailing_edge_up" } as Surface;
const up = { id: 1, kind: "travel", position: "up_stop" } as Requirement;
const sheet = {
  slug: "elevator",
  name: "Elevator",
  readings: [],
  requirements: [up],
} as unknown as Sheet;
const preview = (said: string, value: number | null): Preview =>
  ({
    said,
    result: { value, U: 0.31, verdict: "too close", advice: ["Measure twice more."] },
  }) as never;
const button = (name: string) => screen.getByRole<HTMLButtonElement>("button", { name });

describe("the capture row", () => {
  const value = () => screen.getByLabelText<HTMLInputElement>("Reading, °");
  const said = () => document.getElementById("reading-said")?.textContent ?? "";
  const to = (asked: Asked[], end: string) => asked.filter((a) => a.path.endsWith(end));
  const row = async (
    answer: (asked: Asked) => unknown,
    instruments: object[] = [{ ...LEVEL, live: false }],
  ) => {
    const asked = serve((one) =>
      one.path.endsWith("/instruments")
        ? { count: instruments.length, results: instruments }
        : answer(one),
    );
    const shown = page(<CaptureRow slug="moorhen" sheet={sheet} q={up} surface={surface} />);
    if (instruments.length) await screen.findByLabelText("Reading, °");
    return { asked, ...shown };
  };

  test("without an instrument it says what to do first", async () => {
    await row(() => null, []);
    await screen.findByText(/Add an instrument with its accuracy/);
  });

  test("shows what the reading would mean, then keeps exactly what it showed", async () => {
    const { asked } = await row(({ path }) =>
      path.endsWith("/assess") ? preview("26.40°", 26.4) : {},
    );
    await userEvent.type(value(), "26 24'");
    await waitFor(() =>
      assert.include(said(), "Understood 26.40°. With it: 26.4° ± 0.3° Too close to call"),
    );
    await userEvent.keyboard("{Enter}");
    await waitFor(() => assert.strictEqual(value().value, ""));
    const [kept] = to(asked, "/readings");
    assert.deepEqual(kept?.body, to(asked, "/assess")[0]?.body);
    assert.deepInclude(kept?.body, { surface: "elevator", position: "up_stop", instrument: 3 });
    assert.strictEqual(to(asked, "/readings").length, 1);
  });

  test("advises where there is no value yet", async () => {
    await row(() => preview("26.40°", null));
    await userEvent.type(value(), "26.4");
    await waitFor(() => assert.include(said(), "Measure twice more."));
  });

  test("an empty reading is not sent, and says so", async () => {
    const { asked } = await row(() => ({}));
    await userEvent.type(value(), "  {Enter}");
    assert.include(said(), "is empty: type a number");
    assert.strictEqual(to(asked, "/readings").length, 0);
    assert.strictEqual(value().getAttribute("aria-invalid"), "true");
    await userEvent.type(value(), "2");
    assert.notInclude(said(), "is empty");
  });

  test("a refused or lost reading stays in the row, also after a reload", async () => {
    for (const answer of [LOST, new Status(422, { title: "value: is over 90°" })]) {
      localStorage.clear();
      const { unmount } = await row(({ path }) =>
        path.endsWith("/readings") ? answer : preview("x", 1),
      );
      await userEvent.type(value(), "264{Enter}");
      await waitFor(() => assert.match(said(), /No connection|is over 90°/));
      assert.strictEqual(value().value, "264");
      unmount();
      const again = await row(() => preview("x", 1));
      assert.strictEqual(value().value, "264");
      again.unmount();
    }
  });

  test("an answer for what was typed before is not shown for what is typed now", async () => {
    const slow = promised();
    await row(({ body }) =>
      (body as { value: string }).value === "26" ? slow.promise : preview("27.00°", 27),
    );
    await userEvent.type(value(), "26");
    await new Promise((r) => setTimeout(r, 200));
    await userEvent.clear(value());
    await userEvent.type(value(), "27");
    await waitFor(() => assert.include(said(), "27.00°"));
    await act(async () => {
      slow.keep(preview("26.00°", 26));
      await slow.promise;
    });
    assert.notInclude(said(), "26.00°");
  });

  test("another way of measuring is another question", async () => {
    const { asked } = await row(() => preview("x", 1));
    await userEvent.type(value(), "26");
    await waitFor(() => assert.strictEqual(to(asked, "/assess").length, 1));
    const zero = screen.getByLabelText<HTMLSelectElement>(/zero/i);
    const other = [...zero.options].find((o) => o.value !== zero.value);
    fireEvent.change(zero, { target: { value: other?.value } });
    await waitFor(() => assert.strictEqual(to(asked, "/assess").length, 2));
    const [a, b] = to(asked, "/assess").map((x) => x.body as { zero: string });
    assert.notStrictEqual(a?.zero, b?.zero);
  });
});

describe("the live value", () => {
  const live = (answer: (asked: Asked) => unknown) => {
    vi.useFakeTimers({ shouldAdvanceTime: true });
    const taken: string[] = [];
    const asked = serve(answer);
    const instrument = LEVEL as unknown as Instrument;
    const shown = page(
      <LiveCapture
        slug="moorhen"
        instrument={instrument}
        surface="elevator"
        position="up_stop"
        take={(v) => taken.push(v)}
      />,
    );
    return { asked, taken, ...shown };
  };
  const settling = () => document.querySelector(".level [role=status]")?.textContent;
  const wait = (ms: number) => act(() => vi.advanceTimersByTimeAsync(ms));

  test("can be taken only once it has settled, with the digits of the instrument", async () => {
    let n = 0;
    const { asked, taken } = live(() => ({ value: 26.4 + n * 0.01, settled: ++n > 2 }));
    fireEvent.click(button("Capture from the level"));
    await waitFor(() => assert.strictEqual(settling(), "settling"));
    assert.isTrue(button("Take it").disabled);
    await wait(600);
    assert.strictEqual(settling(), "settled");
    fireEvent.click(button("Take it"));
    const last = 26.4 + (n - 1) * 0.01;
    assert.deepEqual(taken, [last.toFixed(2)]);
    const before = asked.length;
    await wait(1000);
    assert.strictEqual(asked.length, before);
    assert.strictEqual(new Set(asked.map((a) => (a.body as { run: string }).run)).size, 1);
  });

  test("a missed answer shows no value and is asked again; three in a row, and it is gone", async () => {
    const off = new Status(503, { title: "The level is off." });
    const steady = { value: 1, settled: true };
    const answers = [new Status(429, {}), off, off, steady, off, steady, LOST, off, off];
    const { asked } = live(() => answers.shift());
    fireEvent.click(button("Capture from the level"));
    const takeable = () => !button("Take it").disabled;
    const seen: boolean[] = [];
    while (answers.length) {
      const left = answers.length;
      await wait(40);
      if (answers.length < left && answers.length) seen.push(takeable());
    }
    await wait(1000);
    assert.deepEqual(seen.slice(-5), [true, false, true, false, false]);
    assert.strictEqual(asked.length, 9);
    assert.strictEqual(screen.getByRole("alert").textContent, "The level is off.");
    assert.isNotNull(button("Capture from the level"));
  });

  test("what was refused is not asked again", async () => {
    const { asked } = live(() => new Status(403, { title: "You only read here." }));
    fireEvent.click(button("Capture from the level"));
    await wait(1000);
    assert.strictEqual(asked.length, 1);
    assert.strictEqual(screen.getByRole("alert").textContent, "You only read here.");
  });

  test("is not asked after it was stopped or left; a new run has a key of its own", async () => {
    const { asked, unmount } = live(() => ({ value: 1, settled: false }));
    const run = () => (asked.at(-1)?.body as { run: string }).run;
    fireEvent.click(button("Capture from the level"));
    await wait(500);
    const first = run();
    fireEvent.click(button("Stop"));
    const stopped = asked.length;
    await wait(1000);
    assert.strictEqual(asked.length, stopped);
    fireEvent.click(button("Capture from the level"));
    await wait(500);
    assert.notStrictEqual(run(), first);
    unmount();
    const left = asked.length;
    await wait(1000);
    assert.strictEqual(asked.length, left);
  });
});
