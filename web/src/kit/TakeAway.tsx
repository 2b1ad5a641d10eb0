/** Taking something away: a word first, then why, then it goes; refused with the reason. */
import { useState } from "react";

import { useWrite } from "../app/useWrite";
import { Entry } from "./Entry";
import { TextField } from "./fields";

export function TakeAway(p: {
  /** What goes, by its name. */
  what: string;
  /** Its address under the aircraft's. */
  at:
    | `requirements/${number}`
    | `surfaces/${string}`
    | `controls/${string}`
    | `controls/${string}/linkage`
    | `controls/${string}/cables`
    | `instruments/${number}`
    | `documents/${number}`
    | `statements/${number}`
    | `directives/${number}`
    | `bays/${string}`
    | `closures/${string}`
    | `openings/${string}`
    | `joints/${string}`
    | `lines/${string}`
    | `worksheets/${string}`
    | `harness/rows/${string}`
    | `weight/rows/${string}`
    | `clearance/rows/${string}`
    | `stock/${number}`
    | `compounds/${number}`;
  version: number;
  /** What else goes with it, or stays. */
  hint?: string;
  done?: () => void;
}) {
  const { write, error, busy } = useWrite();
  const [open, setOpen] = useState(false);
  const [reason, setReason] = useState("");
  const go = async () => {
    const body = { version: p.version, reason };
    if (await write(`${p.at}/removal` as const, body, `take away ${p.what}`)) p.done?.();
  };
  if (!open)
    return (
      <button type="button" className="plain" onClick={() => setOpen(true)}>
        Take away {p.what}
      </button>
    );
  return (
    <Entry
      label={`Take away ${p.what}`}
      save={go}
      button={`Take away ${p.what}`}
      variant="outline-primary"
      off={busy || reason.trim() === ""}
      error={error}
    >
      {p.hint && <p className="quiet form-name">{p.hint}</p>}
      <TextField sentence label="Why" value={reason} set={setReason} />
      <button type="button" className="plain" onClick={() => setOpen(false)}>
        Leave it
      </button>
    </Entry>
  );
}
