/** Bulletins: does one apply, is it done, when is it due, and deviations with their approval. */
import { useState } from "react";
import { useOutletContext } from "react-router";

import type { Directive, Documents, Verdict } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { useWrite } from "../app/useWrite";
import { Change } from "../kit/Change";
import { TextField, Tick } from "../kit/fields";
import { TakeAway } from "../kit/TakeAway";
import { VerdictMark } from "../marks/VerdictMark";
import { capital } from "../marks/words";
import { Entry } from "../kit/Entry";
import { BulletinForm } from "./BulletinForm";

const today = () => new Date().toISOString().slice(0, 10);

export function Bulletins({ data, may }: { data: Documents; may: boolean }) {
  return (
    <>
      <h2>Bulletins</h2>
      {data.directives.length === 0 && <p className="quiet">None entered.</p>}
      {data.directives.map((d) => (
        <Bulletin
          key={d.id}
          bulletin={d}
          documents={data.documents}
          hours={data.hours_run}
          may={may}
        />
      ))}
      {may && (
        <details>
          <summary>Enter a bulletin</summary>
          <BulletinForm documents={data.documents} />
        </details>
      )}
    </>
  );
}

function Bulletin({
  bulletin: d,
  documents,
  hours,
  may,
}: {
  bulletin: Directive;
  documents: Documents["documents"];
  hours: number;
  may: boolean;
}) {
  const { aircraft } = useOutletContext<FrameContext>();
  const { write, error, busy } = useWrite();
  const [v, setV] = useState({
    done_on: today(),
    hours: String(hours),
    note: "",
    approved_by: "",
    reference: "",
    reason: "",
  });
  const [deviation, setDeviation] = useState(false);
  const [open, setOpen] = useState(false);
  const field = (key: keyof typeof v, label: string, type = "text") => (
    <TextField label={label} type={type} value={v[key]} set={(x) => setV({ ...v, [key]: x })} />
  );
  const comply = () =>
    write(`directives/${d.id}/compliance`, { ...v, deviation }, `bulletin ${d.title}`);
  return (
    <section className="bulletin" aria-label={d.title}>
      <p>
        <VerdictMark verdict={d.verdict as Verdict} /> <strong>{d.title}</strong>{" "}
        {may && <Change name={d.title} open={open} set={setOpen} />}
      </p>
      {open && (
        <>
          <BulletinForm key={d.version} documents={documents} one={d} done={() => setOpen(false)} />
          <TakeAway
            what={d.title}
            at={`directives/${d.id}`}
            version={d.version}
            hint="Only a bulletin that nobody worked on can go."
          />
        </>
      )}
      <p>
        {capital(d.state)}
        {d.due && `, due ${d.due}`}
        {d.left && ` (${d.left} left)`}
        {d.applying === "not known" && ". Not known whether it applies: taken as applying"}
        <span className="quiet"> {d.cited}</span>
      </p>
      <p className="quiet">
        {[
          d.bays.map((b) => aircraft.bays.find((x) => x.slug === b)?.name ?? b).join(", "),
          `applies to ${d.applies_typed}`,
          d.every_hours !== null && `every ${d.every_hours} h`,
          d.every_months !== null && `every ${d.every_months} months`,
        ]
          .filter(Boolean)
          .join("; ")}
      </p>
      <ol>
        {d.steps.map((s) => (
          <li key={s}>{s}</li>
        ))}
      </ol>
      {d.history.map((h) => (
        <p key={h} className="quiet">
          {h}
        </p>
      ))}
      {may && (
        <details>
          <summary>Done, or deviate</summary>
          <Entry
            label={`Compliance: ${d.title}`}
            save={comply}
            button={deviation ? "Record deviation" : "It is done"}
            off={busy}
            error={error}
          >
            {field("done_on", "On", "date")}
            {field("hours", "At hours run")}
            <Tick label="Deviate from it, with approval" value={deviation} set={setDeviation} />
            {deviation ? (
              <>
                {field("approved_by", "Approved by")}
                {field("reference", "Reference")}
                {field("reason", "Reason")}
              </>
            ) : (
              field("note", "Note")
            )}
          </Entry>
        </details>
      )}
    </section>
  );
}
