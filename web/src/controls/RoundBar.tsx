/** Rounds of measuring: the current one, earlier ones, and "measure all again". */
import Button from "react-bootstrap/Button";
import { useState } from "react";
import { useOutletContext, useSearchParams } from "react-router";

import type { Sheet } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { post } from "../app/outbox";
import { useRefresh } from "../app/queries";
import { Said } from "../marks/Said";
import { Entry } from "../kit/Entry";

export function RoundBar({ slug, sheet }: { slug: string; sheet: Sheet }) {
  const { aircraft, session } = useOutletContext<FrameContext>();
  const [, setSearch] = useSearchParams();
  const refresh = useRefresh(slug);
  const [open, setOpen] = useState(false);
  const [reason, setReason] = useState("");
  const [error, setError] = useState<unknown>(null);
  const show = (number: number) => {
    setSearch((before) => {
      const after = new URLSearchParams(before);
      if (number === sheet.rounds.at(-1)?.number) after.delete("round");
      else after.set("round", String(number));
      return after;
    });
  };
  const begin = async () => {
    try {
      const path = `/api/aircraft/${slug}/controls/${sheet.slug}/rounds`;
      const number = sheet.rounds.at(-1)?.number;
      await post(path, { reason, number }, `${sheet.name}: measure all again`, session.username);
      setOpen(false);
      setReason("");
      setError(null);
    } catch (e) {
      setError(e);
    }
    await refresh();
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
          <label>
            What was reworked
            <input
              className="form-control"
              value={reason}
              onChange={(e) => setReason(e.target.value)}
            />
          </label>
          <Button type="submit">Begin a new round</Button>
          <span className="quiet">The old round is kept; signatures on it go stale.</span>
        </Entry>
      )}
      <Said error={error} />
    </div>
  );
}
