/** A surface in words: its name, side, bay, and which way its deflection counts positive. */
import { useOutletContext } from "react-router";

import type { FrameContext } from "../app/Frame";
import { Choice, TextField } from "../kit/fields";

export type SurfaceRow = { name: string; side: string; bay: string; positive: string };

export const POSITIVE = [
  { value: "trailing_edge_up", word: "trailing edge up" },
  { value: "trailing_edge_down", word: "trailing edge down" },
  { value: "trailing_edge_right", word: "trailing edge right (a rudder)" },
];
const SIDES = [
  { value: "", word: "in the middle" },
  { value: "left", word: "left" },
  { value: "right", word: "right" },
];

export function SurfaceFields(p: { row: SurfaceRow; change: (part: Partial<SurfaceRow>) => void }) {
  const { aircraft } = useOutletContext<FrameContext>();
  return (
    <>
      <TextField label="Surface" value={p.row.name} set={(name) => p.change({ name })} />
      <Choice label="Side" value={p.row.side} set={(side) => p.change({ side })} options={SIDES} />
      <Choice
        label="Lies in"
        value={p.row.bay}
        set={(bay) => p.change({ bay })}
        options={[
          { value: "", word: "no bay said" },
          ...aircraft.bays.map((b) => ({ value: b.slug, word: b.name })),
        ]}
      />
      <Choice
        label="Counts positive"
        value={p.row.positive}
        set={(positive) => p.change({ positive })}
        options={POSITIVE}
      />
    </>
  );
}
