/** What a document says of one thing: a range with its unit, or a count. */
import { useState } from "react";
import { useOutletContext } from "react-router";

import type { Documents, Statement } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { useWrite } from "../app/useWrite";
import { Choice, same, TextField } from "../kit/fields";
import { Entry } from "../kit/Entry";
import { unless } from "../kit/unless";

type Listed = Documents["documents"];

export function StatementForm(p: { documents: Listed; one?: Statement; done?: () => void }) {
  const { aircraft } = useOutletContext<FrameContext>();
  const { write, error, busy } = useWrite();
  const { one } = p;
  const [v, setV] = useState({
    thing: one?.thing ?? "",
    value: one?.value ?? "",
    page: one?.page ?? "",
  });
  const [kind, setKind] = useState(one?.kind ?? "range");
  const [dimension, setDimension] = useState(one?.dimension || "length");
  const [source, setSource] = useState(String(one?.source ?? ""));
  const [bay, setBay] = useState(one?.bay ?? "");
  const [reason, setReason] = useState("");
  const keep = async () => {
    const body = {
      ...v,
      kind,
      dimension: kind === "range" ? dimension : "",
      bay,
      source: Number(source || p.documents[0]?.id || 0),
    };
    const label = `statement on ${v.thing}`;
    if (one) {
      const change = { ...body, version: one.version, reason };
      if (await write(`statements/${one.id}`, change, label, "PATCH")) p.done?.();
    } else if (await write("statements", body, label))
      setV(unless(v, { ...v, value: "", page: "" }));
  };
  return (
    <Entry
      label={one ? `Correct ${one.thing}, ${one.cited}` : "What a document says"}
      save={keep}
      button={one ? "Keep correction" : "Keep it"}
      variant="outline-primary"
      off={busy}
      error={error}
    >
      <TextField
        label="Of what (the same words in each document)"
        value={v.thing}
        set={(thing) => setV({ ...v, thing })}
        hint="Sleeve, diameter after pressing"
      />
      <Choice label="Kind" value={kind} set={setKind} options={same("range", "count")} />
      {kind === "range" && (
        <Choice
          label="Of"
          value={dimension}
          set={setDimension}
          options={same("length", "angle", "torque", "force", "temperature", "mass")}
        />
      )}
      <TextField
        label={kind === "range" ? "Limits with unit" : "Count"}
        value={v.value}
        set={(value) => setV({ ...v, value })}
        hint={kind === "range" ? "26.9 to 27.1 mm" : "46"}
      />
      <Choice
        label="Document"
        value={source || String(p.documents[0]?.id ?? "")}
        set={setSource}
        options={p.documents.map((d) => ({ value: String(d.id), word: d.cited }))}
      />
      <TextField label="Page" value={v.page} set={(page) => setV({ ...v, page })} />
      <Choice
        label="Bay"
        value={bay}
        set={setBay}
        options={[
          { value: "", word: "none" },
          ...aircraft.bays.map((b) => ({ value: b.slug, word: b.name })),
        ]}
      />

      {one && (
        <TextField
          sentence
          label="Why it is corrected"
          value={reason}
          set={setReason}
          hint="misread: it says 27.1"
        />
      )}
    </Entry>
  );
}
