/** The first linkage of a control: what the hand or foot moves, where it was measured to be. */
import { useState } from "react";
import { useOutletContext } from "react-router";

import type { FrameContext } from "../../app/Frame";
import { useWrite } from "../../app/useWrite";
import { Entry } from "../../kit/Entry";
import { Choice, Fields } from "../../kit/fields";
import { FilePart } from "../../kit/FilePart";
import { number, place } from "../../kit/numbers";

/** What is moved, the axis about which that is positive, and which way is meant. */
const HANDS: Record<string, { word: string; id: string; axis: number[]; positive: string }> = {
  aft: { word: "a stick, fore and aft", id: "stick", axis: [0, 1, 0], positive: "stick aft" },
  right: { word: "a stick, side to side", id: "stick", axis: [-1, 0, 0], positive: "stick right" },
  pedal: {
    word: "pedals or their bar",
    id: "pedals",
    axis: [0, 0, 1],
    positive: "right pedal forward",
  },
  lever: { word: "a lever, back and forth", id: "lever", axis: [0, 1, 0], positive: "lever back" },
};
const FIELDS = [
  ["pivot", "Its pivot: station, butt line, water line, mm", "2500 0 300"],
  ["held", "Where the first rod is held, mm", "2500 0 225"],
  ["limit", "It turns each way, °", "25"],
] as const;

/** The smallest linkage: one lever moved by hand, where it was measured. */
function first(hand: string, v: Record<string, string>) {
  const h = HANDS[hand];
  if (!h) throw new Error("moved by: choose what the pilot moves");
  const limit = number(v.limit ?? "");
  if (!(limit > 0 && limit < 90)) throw new Error("turns: must be between 0 and 90°");
  return {
    inputs: { [h.id]: { unit: "rad", positive: h.positive, limit: (limit * Math.PI) / 180 } },
    outputs: { [h.id]: { body: h.id, sign: 1 } },
    bodies: [
      {
        id: h.id,
        kind: "turn",
        pivot: place(v.pivot ?? "", "pivot"),
        axis: h.axis,
        driven_by: { input: h.id },
        points: { low: place(v.held ?? "", "held") },
      },
    ],
    rods: [],
    stops: [],
  };
}

/** Nothing there yet: what goes here, and the first step. */
export function FirstLinkage({ control }: { control: string }) {
  const { aircraft } = useOutletContext<FrameContext>();
  const { write, error, busy } = useWrite();
  const [v, setV] = useState<Record<string, string>>({});
  const [hand, setHand] = useState("");
  const [wrong, setWrong] = useState<unknown>(null);
  if (!aircraft.may.includes("change facts"))
    return <p className="p-3">No linkage is described yet for this control.</p>;
  const keep = (document: unknown) =>
    void write(`controls/${control}/linkage`, { version: 0, document }, "Linkage", "PUT");
  const begin = () => {
    try {
      keep(first(hand, v));
      setWrong(null);
    } catch (e) {
      setWrong(e);
    }
  };
  return (
    <div className="page">
      <h1>No linkage is described yet</h1>
      <p>
        Begin with what the pilot moves, where you measured it; then add levers one by one, each
        with its pivot and where its rod is held. It moves here at once, and its travel is known
        before anything is drilled.
      </p>
      <Entry
        label="First lever"
        save={begin}
        button="Begin with it"
        off={busy || !hand}
        error={wrong ?? error}
      >
        <Choice
          label="The pilot moves"
          value={hand}
          set={setHand}
          options={[
            { value: "", word: "choose" },
            ...Object.entries(HANDS).map(([value, h]) => ({ value, word: h.word })),
          ]}
        />
        <Fields of={FIELDS} values={v} set={setV} />
      </Entry>
      <details>
        <summary>Or bring in a linkage file</summary>
        <p>
          Every pivot and hole in aircraft axes (
          <a href="/api/schemas/mechanism">its JSON Schema</a>
          ); another control’s file is a pattern.
        </p>
        <FilePart take={keep} button="Bring it in" off={busy} />
      </details>
    </div>
  );
}
