/** What is said of the control itself: name, what must be seen, positions, whether it is primary. */
import { useState } from "react";
import { useNavigate, useOutletContext } from "react-router";

import type { Sheet } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { useWrite } from "../app/useWrite";
import { Entry } from "../kit/Entry";
import { TextField } from "../kit/fields";
import { TakeAway } from "../kit/TakeAway";
import { detentsOf, Positions, withDetents } from "./Positions";
import { PrimaryFields } from "./PrimaryFields";

export function ControlForm({ sheet }: { sheet: Sheet }) {
  const { aircraft } = useOutletContext<FrameContext>();
  const { write, error, busy, pending } = useWrite();
  const navigate = useNavigate();
  const [v, setV] = useState({
    name: sheet.name,
    sense_check: sheet.sense_check,
    stops: sheet.positions.filter((x) => !x.startsWith("detent")),
    detents: detentsOf(sheet.positions),
    primary: sheet.primary,
    reason: sheet.primary_reason,
  });
  const now = sheet.primary
    ? "Counts as a primary control."
    : `Does not count as a primary control: ${sheet.primary_reason}`;
  if (!aircraft.may.includes("change facts")) return <p>{now}</p>;
  const keep = () => {
    const { stops, detents, ...rest } = v;
    const body = { version: sheet.version, ...rest, positions: withDetents(stops, detents) };
    return write(`controls/${sheet.slug}`, body, `${sheet.name}: what is said of it`, "PATCH");
  };
  return (
    <div className="control-form">
      <p>{now}</p>
      <Entry save={keep} button="Keep" off={busy || pending} error={error} label="This control">
        <TextField label="Name" value={v.name} set={(name) => setV({ ...v, name })} />
        <TextField
          sentence
          label="What must be seen when the pilot moves it"
          value={v.sense_check}
          set={(sense_check) => setV({ ...v, sense_check })}
        />
        <Positions
          upright={sheet.surfaces[0]?.positive === "trailing_edge_right"}
          stops={v.stops}
          setStops={(stops) => setV({ ...v, stops })}
          detents={v.detents}
          setDetents={(detents) => setV({ ...v, detents })}
        />
        <PrimaryFields primary={v.primary} reason={v.reason} set={(x) => setV({ ...v, ...x })} />
      </Entry>
      <TakeAway
        what={sheet.name}
        at={`controls/${sheet.slug}`}
        version={sheet.version}
        hint="Only where nothing was measured, signed or built on it. What was asked goes with it; all stays in the record."
        done={() => void navigate(`/a/${aircraft.slug}/controls`)}
      />
    </div>
  );
}
