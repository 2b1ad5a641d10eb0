/** Bulletins: does one apply, is it done, when is it due, and deviations with their approval. */
import { useState } from "react";

import type { Directive, Documents, Verdict } from "../app/api";
import { useWrite } from "../app/useWrite";
import { Choice, TextField, Tick } from "../kit/fields";
import { VerdictMark } from "../marks/VerdictMark";
import { capital } from "../marks/words";
import { Entry } from "../kit/Entry";

const today = () => new Date().toISOString().slice(0, 10);

export function Bulletins({ data, may }: { data: Documents; may: boolean }) {
  return (
    <>
      <h2>Bulletins</h2>
      {data.directives.length === 0 && <p className="quiet">None entered.</p>}
      {data.directives.map((d) => (
        <Bulletin key={d.id} bulletin={d} hours={data.hours_run} may={may} />
      ))}
      {may && <NewBulletin documents={data.documents} />}
    </>
  );
}

function Bulletin({
  bulletin: d,
  hours,
  may,
}: {
  bulletin: Directive;
  hours: number;
  may: boolean;
}) {
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
  const field = (key: keyof typeof v, label: string, type = "text") => (
    <TextField label={label} type={type} value={v[key]} set={(x) => setV({ ...v, [key]: x })} />
  );
  const comply = () =>
    write(
      `directives/${d.id}/compliance`,
      { ...v, hours: Number(v.hours), deviation },
      `bulletin ${d.title}`,
    );
  return (
    <section className="bulletin" aria-label={d.title}>
      <p>
        <VerdictMark verdict={d.verdict as Verdict} /> <strong>{d.title}</strong>
      </p>
      <p>
        {capital(d.state)}
        {d.due && `, due ${d.due}`}
        {d.left && ` (${d.left} left)`}
        {d.applying === "not known" && ". Not known whether it applies: taken as applying"}
        <span className="quiet"> {d.cited}</span>
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

function NewBulletin({ documents }: { documents: Documents["documents"] }) {
  const { write, error, busy } = useWrite();
  const [v, setV] = useState({
    title: "",
    applies: "",
    steps: "",
    first_hours: "",
    every_hours: "",
    every_months: "",
  });
  const [source, setSource] = useState("");
  const number = (x: string) => (x ? Number(x) : null);
  const field = (key: keyof typeof v, label: string, hint = "") => (
    <TextField label={label} value={v[key]} hint={hint} set={(x) => setV({ ...v, [key]: x })} />
  );
  const add = () =>
    write(
      "directives",
      {
        title: v.title,
        source: Number(source || documents[0]?.id || 0),
        applies: v.applies,
        steps: v.steps
          .split(";")
          .map((s) => s.trim())
          .filter(Boolean),
        first_hours: number(v.first_hours),
        every_hours: number(v.every_hours),
        every_months: number(v.every_months),
      },
      `bulletin ${v.title}`,
    );
  return (
    <details>
      <summary>Enter a bulletin</summary>
      <Entry
        label="New bulletin"
        save={add}
        button="Keep bulletin"
        variant="outline-primary"
        off={busy}
        error={error}
      >
        {field("title", "Title")}
        <Choice
          label="Document"
          value={source || String(documents[0]?.id ?? "")}
          set={setSource}
          options={documents.map((d) => ({ value: String(d.id), word: d.cited }))}
        />
        {field("applies", "Applies to", "serial=12..88; pump=P-30")}
        {field("steps", "Steps, parted by ;")}
        {field("first_hours", "First at hours run", "10")}
        {field("every_hours", "Then every hours", "50")}
        {field("every_months", "Or every months", "12")}
      </Entry>
    </details>
  );
}
