/** A bulletin as its maker gives it: to what it applies, what is to be done, when and how often. */
import { useState } from "react";
import { useOutletContext } from "react-router";

import { BayTicks } from "../aircraft/BayTicks";
import type { Directive, Documents } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { useWrite } from "../app/useWrite";
import { Entry } from "../kit/Entry";
import { Choice, TextField } from "../kit/fields";
import { unless } from "../kit/unless";

const text = (x: number | null | undefined) => (x === null || x === undefined ? "" : String(x));

function begin(d: Directive | undefined) {
  return {
    title: d?.title ?? "",
    applies: d?.applies_typed ?? "",
    steps: d?.steps.join("; ") ?? "",
    first_hours: text(d?.first_hours),
    first_on: d?.first_on ?? "",
    every_hours: text(d?.every_hours),
    every_months: text(d?.every_months),
    warn_hours: text(d?.warn_hours),
    warn_days: text(d?.warn_days),
    reason: "",
  };
}

// An empty field is not said; the rest goes as it was typed, to be refused by its name.
const said = <V extends Record<string, string>>(v: V) =>
  Object.fromEntries(Object.entries(v).filter(([, x]) => x.trim() !== "")) as Partial<V>;

export function BulletinForm(p: {
  documents: Documents["documents"];
  one?: Directive;
  done?: () => void;
}) {
  const { aircraft } = useOutletContext<FrameContext>();
  const { write, error, busy } = useWrite();
  const { one } = p;
  const [v, setV] = useState(() => begin(one));
  const [bays, setBays] = useState(one?.bays ?? []);
  const [source, setSource] = useState(String(one?.source ?? ""));
  const field = (key: keyof typeof v, label: string, hint = "", type = "text") => (
    <TextField
      sentence={["title", "applies", "steps"].includes(key)}
      label={label}
      type={type}
      value={v[key]}
      hint={hint}
      set={(x) => setV({ ...v, [key]: x })}
    />
  );
  const keep = async () => {
    const { title, applies, steps, reason, ...times } = v;
    const body = {
      title,
      applies,
      steps: steps
        .split(";")
        .map((s) => s.trim())
        .filter(Boolean),
      bays,
      source: Number(source || p.documents[0]?.id || 0),
      ...said(times),
    };
    if (one) {
      const change = { ...body, version: one.version, reason };
      if (await write(`directives/${one.id}`, change, `bulletin ${title}`, "PATCH")) p.done?.();
    } else if (await write("directives", body, `bulletin ${title}`)) {
      setV(unless(v, begin(undefined)));
      setBays(unless(bays, []));
    }
  };
  return (
    <Entry
      label={one ? `Correct ${one.title}` : "New bulletin"}
      save={keep}
      button={one ? "Keep correction" : "Keep bulletin"}
      variant="outline-primary"
      off={busy}
      error={error}
    >
      {field("title", "Title")}
      <Choice
        label="Document"
        value={source || String(p.documents[0]?.id ?? "")}
        set={setSource}
        options={p.documents.map((d) => ({ value: String(d.id), word: d.cited }))}
      />
      {field("applies", "Applies to", "serial=12..88; pump=P-30")}
      {field("steps", "Steps, parted by ;")}
      {field("first_hours", "First at hours run", "10")}
      {field("first_on", "First on", "", "date")}
      {field("every_hours", "Then every hours", "50")}
      {field("every_months", "Or every months", "12")}
      {field("warn_hours", "Told hours before", "10")}
      {field("warn_days", "Told days before", "30")}
      <BayTicks
        legend="Bays that it is in: it stands in the gate of each"
        bays={aircraft.bays}
        value={bays}
        set={setBays}
      />
      {one && (
        <TextField
          sentence
          label="Why it is corrected"
          value={v.reason}
          set={(reason) => setV({ ...v, reason })}
          hint="misread: every 50 h, not 500"
        />
      )}
    </Entry>
  );
}
