/** A control to begin with: a pattern, or one's own; everything can be changed before and after. */
import { useState } from "react";
import { useNavigate, useOutletContext } from "react-router";

import type { Sheet } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { usePatterns } from "../app/queries";
import { useWrite } from "../app/useWrite";
import { Entry } from "../kit/Entry";
import { Choice, TextField } from "../kit/fields";
import { Rows } from "../kit/Rows";
import { Waiting } from "../marks/Said";
import { detentsOf, Positions, withDetents } from "./Positions";
import { PrimaryFields } from "./PrimaryFields";
import { SurfaceFields, type SurfaceRow } from "./SurfaceFields";

const EMPTY: SurfaceRow = { name: "", side: "", bay: "", positive: "trailing_edge_up" };
const OWN = {
  name: "",
  sense_check: "",
  stops: ["neutral"],
  detents: "",
  surfaces: [EMPTY],
  primary: true,
  reason: "",
};
const OTHER = "another";

export function NewControl() {
  const { aircraft } = useOutletContext<FrameContext>();
  const patterns = usePatterns();
  const { write, error, busy } = useWrite();
  const navigate = useNavigate();
  const [pattern, setPattern] = useState("");
  const [v, setV] = useState(OWN);
  if (!patterns.data) return <Waiting error={patterns.error} />;
  const begin = (name: string) => {
    setPattern(name);
    const p = patterns.data.results.find((x) => x.name === name);
    if (!p) return setV(OWN);
    setV({
      name: p.name,
      sense_check: p.sense_check,
      stops: p.positions.filter((x) => !x.startsWith("detent")),
      detents: detentsOf(p.positions),
      surfaces: p.surfaces.map((s) => ({ ...s, bay: "" })),
      primary: p.not_primary === "",
      reason: p.not_primary,
    });
  };
  const make = async () => {
    const { stops, detents, ...rest } = v;
    const body = { ...rest, positions: withDetents(stops, detents) };
    const made = (await write("controls", body, v.name)) as Sheet | null;
    if (made) void navigate(`/a/${aircraft.slug}/controls/${made.slug}`);
  };
  const upright = v.surfaces[0]?.positive === "trailing_edge_right";
  return (
    <section className="new-control" aria-label="New control">
      <h1>New control</h1>
      <p>
        Which control? A pattern fills in what is usual: look it over, and change what is otherwise
        on this aircraft. What the drawings ask comes after.
      </p>
      <Choice
        label="Begin with"
        value={pattern}
        set={begin}
        options={[
          { value: "", word: "choose …" },
          ...patterns.data.results.map((p) => ({ value: p.name, word: p.name })),
          { value: OTHER, word: "another control" },
        ]}
      />
      {pattern && (
        <Entry label="New control" save={make} button="Add the control" off={busy} error={error}>
          <TextField label="Name" value={v.name} set={(name) => setV({ ...v, name })} />
          <TextField
            sentence
            label="What must be seen when the pilot moves it"
            hint="Stick back: trailing edge up"
            value={v.sense_check}
            set={(sense_check) => setV({ ...v, sense_check })}
          />
          <Rows
            className="column"
            legend="Its surfaces"
            add="Add a surface"
            rows={v.surfaces}
            set={(surfaces) => setV({ ...v, surfaces })}
            empty={{ ...EMPTY, positive: v.surfaces[0]?.positive ?? EMPTY.positive }}
            takeOut={(row) => `Take out ${row.name || "this surface"}`}
            row={(row, change) => <SurfaceFields row={row} change={change} />}
          />
          <Positions
            upright={upright}
            stops={v.stops}
            setStops={(stops) => setV({ ...v, stops })}
            detents={v.detents}
            setDetents={(detents) => setV({ ...v, detents })}
          />
          <PrimaryFields
            primary={v.primary}
            reason={v.reason}
            set={(part) => setV({ ...v, ...part })}
          />
        </Entry>
      )}
    </section>
  );
}
