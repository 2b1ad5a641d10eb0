import { act, screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { assert, describe, test, vi } from "vitest";

import { EVERY, usePulse } from "../src/app/usePulse";
import { Entry } from "../src/kit/Entry";
import { useHeld } from "../src/kit/held";
import { page } from "./page";
import { LOST, promised, serve } from "./server";

function Held() {
  return <output>{useHeld() ? "held" : "free"}</output>;
}
const said = () => document.querySelector("output")?.textContent;

describe("what is being entered", () => {
  test("holds from the first letter until it is sent, or gone", async () => {
    const sending = promised<undefined>();
    const { unmount } = page(
      <>
        <Held />
        <Entry label="Kept" save={() => sending.promise} button="Keep">
          <input aria-label="Limit" />
        </Entry>
        <Entry label="Loose" save={() => null} loose>
          <input aria-label="Reading" />
        </Entry>
      </>,
    );
    await userEvent.type(screen.getByLabelText("Reading"), "26");
    assert.strictEqual(said(), "free");
    await userEvent.type(screen.getByLabelText("Limit"), "2");
    assert.strictEqual(said(), "held");
    await userEvent.click(screen.getByRole("button", { name: "Keep" }));
    assert.strictEqual(said(), "held");
    await act(async () => {
      sending.keep(undefined);
      await sending.promise;
    });
    await waitFor(() => assert.strictEqual(said(), "free"));
    await userEvent.type(screen.getByLabelText("Limit"), "3");
    unmount();
    page(<Held />);
    assert.strictEqual(said(), "free");
  });
});

describe("what is done elsewhere", () => {
  const follow = (answer: () => unknown) => {
    vi.useFakeTimers({ shouldAdvanceTime: true });
    serve(answer);
    function Follows() {
      const { gone, waits } = usePulse("moorhen");
      return (
        <Entry label="Kept" save={() => null} button="Keep">
          <input aria-label="Limit" />
          <output>{[gone && "gone", waits && "waits"].filter(Boolean).join(" ")}</output>
        </Entry>
      );
    }
    const { client } = page(<Follows />);
    const read = vi.spyOn(client, "invalidateQueries");
    const wait = () => act(() => vi.advanceTimersByTimeAsync(EVERY + 50));
    return { read, wait };
  };

  test("is read when the number changes, and not before", async () => {
    let last = 7;
    const { read, wait } = follow(() => ({ last }));
    await wait();
    await wait();
    assert.strictEqual(read.mock.calls.length, 0);
    last = 8;
    await wait();
    assert.deepEqual(read.mock.calls[0]?.[0], { queryKey: ["a", "moorhen"] });
    await wait();
    assert.strictEqual(read.mock.calls.length, 1);
  });

  test("waits while something is entered, and is read once that is kept", async () => {
    let last = 7;
    const { read, wait } = follow(() => ({ last }));
    await wait();
    await userEvent.type(screen.getByLabelText("Limit"), "2");
    last = 9;
    await wait();
    assert.strictEqual(said(), "waits");
    assert.strictEqual(read.mock.calls.length, 0);
    await userEvent.click(screen.getByRole("button", { name: "Keep" }));
    await waitFor(() => assert.strictEqual(read.mock.calls.length, 1));
    assert.strictEqual(said(), "");
  });

  test("a server that does not answer is told, and all is read when it is back", async () => {
    let answer: unknown = { last: 7 };
    const { read, wait } = follow(() => answer);
    await wait();
    assert.strictEqual(said(), "");
    answer = LOST;
    await wait();
    assert.strictEqual(said(), "gone");
    answer = { last: 7 };
    await wait();
    assert.strictEqual(said(), "");
    assert.strictEqual(read.mock.calls.length, 1);
  });
});
