/** Rounds of measuring: the current one, earlier ones, and "measure all again". */
import Button from "react-bootstrap/Button";
import { useState } from "react";
import { useOutletContext, useSearchParams } from "react-router";

import type { Sheet } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { useWrite } from "../app/useWrite";
import { Said } from "../marks/Said";
import { Entry } from "../kit/Entry";
import { TextField } from "../kit/fields";

export function RoundBar({ sheet }: { sheet: Sheet }) {
  const { aircraft } = useOutletContext<FrameContext>();
  const [, setSearch] = useSearchParams();
  const { write, error, busy } = useWrite();
  const [open, setOpen] = useState(false);
  const [reason, setReason] = useState("");
  const show = (number: number) => {
    setSearch((before) => {
      const after = new URLSearchParams(before);
      if (number === sheet.rounds.at(-1)?.number) after.delete("round");
      else after.set("round", String(number));
      return after;
    });
  };
  const begin = async () => {
    const body = { reason, number: sheet.rounds.at(-1)?.number };
    if (await write(`controls/${sheet.slug}/rounds`, body, `${sheet.name}: measure all again`)) {
      setOpen(false);
      setReason("");
    }
  };
  return (
    <div className="rounds">
      {sheet.rounds.map((r) => (
        <button
          key={r.number}
          type="button"
          className="plain"
          aria-pressed={r.number === sheet.round}
          title={r.reason}
          onClick={() => show(r.number)}
        >
          Round {r.number}
        </button>
      ))}
      <span className="quiet">{sheet.rounds.find((r) => r.number === sheet.round)?.reason}</span>
      {aircraft.may.includes("measure") && (
        <button type="button" className="plain" onClick={() => setOpen(!open)}>
          Measure all again
        </button>
      )}
      {open && (
        <Entry save={begin}>
          <TextField label="What was reworked" value={reason} set={setReason} />
          <Button type="submit" disabled={busy}>
            Begin a new round
          </Button>
          <span className="quiet">The old round is kept; signatures on it go stale.</span>
        </Entry>
      )}
      <Said error={error} />
    </div>
  );
}
