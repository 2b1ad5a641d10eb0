/** What was done to a row and what comes next: a wire's steps and test, a circuit's insulation. */
import { useState } from "react";
import Button from "react-bootstrap/Button";

import type { HarnessPage, HarnessRow } from "../app/api";
import { useWrite } from "../app/useWrite";
import { Entry } from "../kit/Entry";
import { Fields, Tick } from "../kit/fields";
import { unless } from "../kit/unless";
import { Said } from "../marks/Said";
import { capital, when } from "../marks/words";
import { LiveMeter } from "./LiveMeter";

const EMPTY = { measured: "", u: "", leads: "", contacts: "", temperature: "" };
/** A step of which nothing is read. */
export const NOTHING = { ...EMPTY, note: "", breaker: "", over: false };
const READ = [
  ["measured", "The meter reads", "120 mohm"],
  ["u", "The meter is good to ±", "2 mohm"],
  ["leads", "Its leads alone read", "40 mohm"],
  ["contacts", "Contacts may have at most", "10 mohm"],
  ["temperature", "Wire’s temperature", "20 C"],
] as const;
const DO: Record<string, string> = {
  run: "It is run",
  end_a: "Its start is terminated",
  end_b: "Its end is terminated",
  labelled: "It is labelled",
};

export function WireSteps(p: { row: HarnessRow; steps: HarnessPage["steps"]; may: boolean }) {
  const { write, error, busy } = useWrite();
  const [v, setV] = useState(EMPTY);
  const { row } = p;
  const at = `harness/rows/${row.slug}/steps` as const;
  const open = p.steps.filter((s) => s.value in DO && !row.done.includes(s.value));
  const can = ["run", "end_a", "end_b"].every((s) => row.done.includes(s));
  const step = (doing: string) =>
    void write(at, { ...NOTHING, doing: doing as "run" }, `${row.name}: ${doing}`);
  const test = async () => {
    if (await write(at, { ...NOTHING, ...v, doing: "tested" }, `${row.name}: test`))
      setV(unless(v, EMPTY));
  };
  return (
    <section aria-label="Steps">
      <p>{row.missing.length ? `Not yet: ${row.missing.join(", ")}.` : "All of it is done."}</p>
      {p.may && open.length > 0 && (
        <div className="buttons">
          {open.map((s) => (
            <Button
              key={s.value}
              variant="outline-primary"
              disabled={busy}
              onClick={() => step(s.value)}
            >
              {DO[s.value]}
            </Button>
          ))}
        </div>
      )}
      {p.may && can && (
        <details open={!row.done.includes("tested")}>
          <summary>Test it for continuity</summary>
          <Entry label="Continuity" save={test} button="Keep this test" off={busy}>
            <LiveMeter
              kind="resistance"
              at={row.slug}
              take={(measured, u) => setV({ ...v, measured, u })}
            />
            <Fields of={READ} values={v} set={setV} />
          </Entry>
        </details>
      )}
      <Said error={error} />
      <Happened row={row} may={p.may} />
    </section>
  );
}

const TESTER = [
  ["measured", "The tester reads", "50 Mohm"],
  ["u", "The tester is good to ±, %", "10"],
] as const;

/** A circuit's insulation, by the tester. */
export function Insulation(p: { row: HarnessRow; may: boolean }) {
  const { write, error, busy } = useWrite();
  const none = { measured: "", u: "" };
  const [v, setV] = useState(none);
  const [over, setOver] = useState(false);
  const { row } = p;
  const test = async () => {
    const body = { ...NOTHING, ...v, over, doing: "insulated" as const };
    if (await write(`harness/rows/${row.slug}/steps`, body, `${row.name}: insulation`))
      setV(unless(v, none));
  };
  return (
    <section aria-label="Insulation">
      {p.may && (
        <details>
          <summary>Test its insulation</summary>
          <Entry label="Insulation" save={test} button="Keep this test" off={busy}>
            <Fields of={TESTER} values={v} set={setV} />
            <Tick label="It says: more than this" value={over} set={setOver} />
          </Entry>
        </details>
      )}
      <Said error={error} />
      <Happened row={row} may={p.may} />
    </section>
  );
}

/** What was done, the newest first; the last is taken back. */
export function Happened(p: { row: HarnessRow; may: boolean }) {
  const { write, error, busy } = useWrite();
  const { row } = p;
  const at = `harness/rows/${row.slug}/steps` as const;
  const last = row.events[0];
  return (
    <>
      <Said error={error} />
      <ul className="happened">
        {row.events.map((e) => (
          <li key={e.id}>
            {capital(e.said)}
            <span className="quiet">
              {" "}
              {e.by}, {when(e.at)}
            </span>
            {p.may && e.id === last?.id && (
              <button
                type="button"
                className="plain"
                disabled={busy}
                onClick={() => void write(`${at}/${e.id}/undo` as const, {}, `${row.name}: undo`)}
              >
                Take back
              </button>
            )}
          </li>
        ))}
      </ul>
    </>
  );
}
