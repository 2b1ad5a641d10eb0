import { screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { assert, beforeEach, describe, test } from "vitest";

import { draft, emptied, post, unsentOf } from "../src/app/outbox";
import { Corner } from "../src/app/Top";
import { page } from "./page";
import { LOST, serve } from "./server";

const session = { signed_in: true, username: "odile", name: "Odile Brackwater" } as never;
const button = (name: string | RegExp) => screen.getByRole<HTMLButtonElement>("button", { name });

describe("signing out", () => {
  beforeEach(emptied);

  test("asks before it discards what was not sent, and leaves nothing behind", async () => {
    serve(() => LOST);
    await post("/api/aircraft/moorhen/notes", {}, "a note", "odile").catch(() => null);
    draft.keep("entry.moorhen", "elev up");
    const asked = serve(() => ({ csrf: "n3w", signed_in: false, username: "", name: "" }));
    page(<Corner session={session} />);
    await userEvent.click(button(/Sign out Odile/));
    assert.include(screen.getByRole("alert").textContent, "1 entry not sent yet");
    assert.strictEqual(asked.length, 0);
    await userEvent.click(button("Stay"));
    assert.isNull(screen.queryByRole("alert"));
    assert.strictEqual(unsentOf("odile"), 1);
    await userEvent.click(button(/Sign out Odile/));
    await userEvent.click(button("Discard and sign out"));
    await waitFor(() => assert.strictEqual(unsentOf("odile"), 0));
    assert.strictEqual(draft.read("entry.moorhen"), "");
    assert.strictEqual(asked[0]?.method, "DELETE");
  });

  test("with nothing left it goes at once", async () => {
    const asked = serve(() => ({ csrf: "n3w", signed_in: false, username: "", name: "" }));
    page(<Corner session={session} />);
    await userEvent.click(button(/Sign out Odile/));
    await waitFor(() => assert.strictEqual(asked.length, 1));
    assert.isNull(screen.queryByRole("alert"));
  });
});
