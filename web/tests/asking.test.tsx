import { screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { assert, describe, test } from "vitest";

import { isDifference, type Kind, limitsOf, sent, type Way } from "../src/controls/Limits";
import { NewControl } from "../src/controls/NewControl";
import { detentsOf, withDetents } from "../src/controls/Positions";
import { TakeAway } from "../src/kit/TakeAway";
import { chance } from "./near";
import { page } from "./page";
import { serve, Status } from "./server";

const KINDS: Kind[] = ["travel", "neutral", "symmetry", "ratio", "repeatability"];
const button = (name: string) => screen.getByRole<HTMLButtonElement>("button", { name });

describe("limits", () => {
  test("as they stand come back as they are, to the last digit", () => {
    const next = chance(17);
    for (let n = 0; n < 400; n++) {
      const kind = KINDS[n % KINDS.length] as Kind;
      const hi = Math.round(next() * 4e7) / 1e6;
      const lo = isDifference(kind) ? -hi : Math.round((hi - next() * 30) * 1e6) / 1e6;
      const none = !isDifference(kind) && next() < 0.2;
      const as = sent(limitsOf({ kind, lo: none ? hi : lo, hi, no_tolerance: none }), kind);
      if (none) assert.deepInclude(as, { nominal: String(hi), lo: "", hi: "", no_tolerance: true });
      else
        assert.deepInclude(as, {
          hi: String(hi),
          lo: isDifference(kind) ? "" : String(lo),
          nominal: "",
        });
    }
  });

  test("an open limit stays open, and only what belongs to the chosen way is sent", () => {
    const open = limitsOf({ kind: "travel", lo: null, hi: 3, no_tolerance: false });
    assert.deepInclude(sent(open, "travel"), { lo: "", hi: "3" });
    const all = { nominal: "26", plus: "2", minus: "1", lo: "25", hi: "28" };
    const filled = (way: Way) =>
      Object.entries(sent({ ...all, way }, "travel"))
        .filter(([, v]) => v)
        .map(([k]) => k);
    assert.deepEqual(filled("tolerance"), ["nominal", "plus", "minus"]);
    assert.deepEqual(filled("range"), ["lo", "hi"]);
    assert.deepEqual(filled("none"), ["nominal", "no_tolerance"]);
  });
});

describe("detents", () => {
  test("go to their field and back, and leave the stops alone", () => {
    const positions = ["neutral", "up_stop", "detent_10", "detent_35"];
    assert.strictEqual(detentsOf(positions), "10; 35");
    assert.deepEqual(withDetents(["neutral", "up_stop"], detentsOf(positions)), positions);
    assert.deepEqual(withDetents(["neutral", "detent_9"], " 10,20 ;30"), [
      "neutral",
      "detent_10",
      "detent_20",
      "detent_30",
    ]);
    assert.deepEqual(withDetents(["neutral"], "  "), ["neutral"]);
  });
});

describe("taking away", () => {
  test("asks why first, and goes only once it is said", async () => {
    const done: number[] = [];
    const asked = serve(() => ({}));
    page(<TakeAway what="Spoilers" at="controls/spoilers" version={3} done={() => done.push(1)} />);
    await userEvent.click(button("Take away Spoilers"));
    assert.isTrue(button("Take away Spoilers").disabled);
    assert.strictEqual(asked.length, 0);
    await userEvent.type(screen.getByLabelText("Why"), "entered twice");
    await userEvent.click(button("Take away Spoilers"));
    await waitFor(() => assert.deepEqual(done, [1]));
    assert.strictEqual(asked[0]?.path, "/api/aircraft/moorhen/controls/spoilers/removal");
    assert.deepEqual(asked[0]?.body, { version: 3, reason: "entered twice" });
  });

  test("refused, it says why and nothing is done; and it can be left", async () => {
    const done: number[] = [];
    serve(() => new Status(422, { title: "control: has readings: they stay with it" }));
    page(<TakeAway what="Elevator" at="controls/elevator" version={1} done={() => done.push(1)} />);
    await userEvent.click(button("Take away Elevator"));
    await userEvent.type(screen.getByLabelText("Why"), "mistake");
    await userEvent.click(button("Take away Elevator"));
    assert.include((await screen.findByRole("alert")).textContent, "has readings");
    assert.deepEqual(done, []);
    await userEvent.click(button("Leave it"));
    assert.isNull(screen.queryByRole("form"));
  });
});

describe("a new control", () => {
  const patterns = {
    results: [
      {
        name: "Flaps",
        surfaces: [
          { name: "Left flap", side: "left", positive: "trailing_edge_down" },
          { name: "Right flap", side: "right", positive: "trailing_edge_down" },
        ],
        positions: ["neutral"],
        sense_check: "Both down together",
        not_primary: "A flap is no primary control",
      },
    ],
  };
  const OWNER = {
    aircraft: {
      slug: "moorhen",
      may: ["change facts"],
      bays: [{ slug: "left-root", name: "Left root" }],
    },
  };

  test("begins with a pattern, is changed by hand, and is sent as it stands", async () => {
    const asked = serve(({ method }) => (method === "GET" ? patterns : { slug: "flaps" }));
    const { router } = page(<NewControl />, "/a/moorhen/controls", OWNER);
    await userEvent.selectOptions(await screen.findByLabelText(/Begin with/), "Flaps");
    const [left] = screen.getAllByLabelText(/Lies in/);
    await userEvent.selectOptions(left as Element, "Left root");
    await userEvent.click(button("Take out Right flap"));
    await userEvent.type(screen.getByLabelText(/Detents/), "10; 20");
    await userEvent.click(screen.getByLabelText("Down"));
    await userEvent.click(button("Add the control"));
    await waitFor(() =>
      assert.strictEqual(router.state.location.pathname, "/a/moorhen/controls/flaps"),
    );
    const sentBody = asked.find((a) => a.method === "POST")?.body;
    assert.deepEqual(sentBody, {
      name: "Flaps",
      sense_check: "Both down together",
      surfaces: [
        { name: "Left flap", side: "left", bay: "left-root", positive: "trailing_edge_down" },
      ],
      positions: ["neutral", "down_stop", "detent_10", "detent_20"],
      primary: false,
      reason: "A flap is no primary control",
    });
  });

  test("of one's own begins with nothing said", async () => {
    serve(() => patterns);
    page(<NewControl />, "/a/moorhen/controls", OWNER);
    await userEvent.selectOptions(await screen.findByLabelText(/Begin with/), "another control");
    assert.strictEqual(screen.getByLabelText<HTMLInputElement>("Name").value, "");
    assert.strictEqual(screen.getByLabelText<HTMLInputElement>("Surface").value, "");
    assert.isFalse(screen.getByLabelText<HTMLInputElement>("Up").checked);
  });
});
