/** The readings of one position, as typed; each can be corrected or withdrawn, never lost. */
import Button from "react-bootstrap/Button";
import { useState } from "react";
import { useOutletContext } from "react-router";

import type { Reading, Requirement, Sheet } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { useWrite } from "../app/useWrite";
import { plain, when } from "../marks/words";
import { Entry } from "../kit/Entry";
import { TextField } from "../kit/fields";

export function ReadingList({ sheet, q }: { sheet: Sheet; q: Requirement }) {
  const { aircraft } = useOutletContext<FrameContext>();
  const [open, setOpen] = useState<number | null>(null);
  const rows = sheet.readings.filter((r) => r.surface === q.surface && r.position === q.position);
  const latest = sheet.round === sheet.rounds.at(-1)?.number;
  if (rows.length === 0) return null;
  return (
    <section className="readings" aria-label="Readings">
      <h2>Readings</h2>
      <ul>
        {rows.map((r) => (
          <li key={r.id} className={r.current ? "" : "replaced"}>
            <span className="num">
              {r.withdrawn ? "withdrawn" : `${r.as_typed} ${r.unit === "deg" ? "°" : r.unit}`}
            </span>
            <span className="reading-how">
              {r.instrument}, {plain(r.practice || r.method)}
              {r.check_reading && ", check reading"}
              {r.approach && `, from ${r.approach}`}; {r.taken_by}, {when(r.taken_at)}
              {r.reason && (
                <em>
                  {" "}
                  {r.corrects ? "corrects" : ""} ({r.reason})
                </em>
              )}
              {conditions(r)}
            </span>
            {r.current && latest && aircraft.may.includes("measure") && !r.check_reading && (
              <button
                type="button"
                className="plain"
                onClick={() => setOpen(open === r.id ? null : r.id)}
              >
                Correct
              </button>
            )}
            {open === r.id && <Correction r={r} onDone={() => setOpen(null)} />}
          </li>
        ))}
      </ul>
    </section>
  );
}

const yesNo = (v: unknown, yes: string, no: string): string =>
  v === true ? yes : v === false ? no : "";

function conditions(r: Reading): string {
  const c = r.conditions as Record<string, unknown>;
  const said = [
    yesNo(c.gust_locks_out, "gust locks out", "gust locks in"),
    yesNo(c.cables_tensioned, "cables tensioned", "cables not tensioned"),
    c.flap_setting ? `flaps ${String(c.flap_setting)}` : "",
    c.servo ? `servo ${String(c.servo)}` : "",
    typeof c.temperature === "string" ? c.temperature : "",
    r.place,
  ].filter(Boolean);
  return said.length ? ` · ${said.join(", ")}` : "";
}

function Correction({ r, onDone }: { r: Reading; onDone: () => void }) {
  const { write, error, busy } = useWrite();
  const [value, setValue] = useState(r.as_typed);
  const [reason, setReason] = useState("");
  const send = async (withdraw: boolean) => {
    const body = { value: withdraw ? "" : value, withdraw, reason };
    const label = `correction of ${r.as_typed}: ${withdraw ? "withdrawn" : value}`;
    if (await write(`readings/${r.id}/corrections`, body, label)) onDone();
  };
  return (
    <Entry label="Correct a reading" save={() => void send(false)} error={error}>
      <TextField label="New value" value={value} set={setValue} />
      <TextField label="Reason" value={reason} set={setReason} />
      <Button type="submit" disabled={busy}>
        Correct
      </Button>
      <Button variant="outline-primary" type="button" onClick={() => void send(true)}>
        Withdraw
      </Button>
    </Entry>
  );
}
