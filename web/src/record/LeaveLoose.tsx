/** Leaving something loose on purpose: what, why, and what ends it. */
import { useState } from "react";
import { useOutletContext } from "react-router";

import type { FrameContext } from "../app/Frame";
import { useWrite } from "../app/useWrite";
import { Choice, TextField } from "../kit/fields";
import { Entry } from "../kit/Entry";
import "./record.css";
import { unless } from "../kit/unless";

const USUAL = ["the final rig", "after paint", "part arrives", "the next inspection"];

export function LeaveLoose({ bay, joint }: { bay?: string; joint?: string }) {
  const { aircraft } = useOutletContext<FrameContext>();
  const { write, error, busy } = useWrite();
  const [what, setWhat] = useState("");
  const [reason, setReason] = useState("");
  const [ends, setEnds] = useState("the final rig");
  const [where, setWhere] = useState(bay ?? "");
  const leave = async () => {
    const body = { what, reason, ends_with: ends, bay: where, joint: joint ?? "" };
    if (await write("loose-ends", body, `loose end ${what}`)) {
      setWhat(unless(what, ""));
      setReason(unless(reason, ""));
    }
  };
  return (
    <details>
      <summary>Leave something loose</summary>
      <Entry label="Loose end" save={leave} button="Leave it loose" off={busy} error={error}>
        <TextField label="What is loose" value={what} set={setWhat} hint="cotter pin left out" />
        <TextField label="Why" value={reason} set={setReason} />
        <label>
          What ends it
          <input
            className="form-control"
            list="usual-ends"
            value={ends}
            onChange={(e) => setEnds(e.target.value)}
          />
          <datalist id="usual-ends">
            {USUAL.map((u) => (
              <option key={u} value={u} />
            ))}
          </datalist>
        </label>
        {!bay && !joint && (
          <Choice
            label="Where"
            value={where}
            set={setWhere}
            options={[
              { value: "", word: "in no bay" },
              ...aircraft.bays.map((b) => ({ value: b.slug, word: b.name })),
            ]}
          />
        )}
      </Entry>
    </details>
  );
}
