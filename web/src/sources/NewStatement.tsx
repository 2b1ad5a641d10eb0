/** What a document says of one thing: a range with its unit, or a count. */
import { useState } from "react";
import { useOutletContext } from "react-router";

import type { Documents } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { useWrite } from "../app/useWrite";
import { Choice, same, TextField } from "../kit/fields";
import { Entry } from "../kit/Entry";

export function NewStatement({ documents }: { documents: Documents["documents"] }) {
  const { aircraft } = useOutletContext<FrameContext>();
  const { write, error, busy } = useWrite();
  const [v, setV] = useState({ thing: "", value: "", page: "" });
  const [kind, setKind] = useState("range");
  const [dimension, setDimension] = useState("length");
  const [source, setSource] = useState("");
  const [bay, setBay] = useState("");
  const add = async () => {
    const body = {
      ...v,
      kind,
      dimension: kind === "range" ? dimension : "",
      bay,
      source: Number(source || documents[0]?.id || 0),
    };
    if (await write("statements", body, `statement on ${v.thing}`))
      setV({ ...v, value: "", page: "" });
  };
  return (
    <details>
      <summary>Enter what a document says</summary>
      <Entry
        label="What a document says"
        save={add}
        button="Keep it"
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
          value={source || String(documents[0]?.id ?? "")}
          set={setSource}
          options={documents.map((d) => ({ value: String(d.id), word: d.cited }))}
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
      </Entry>
    </details>
  );
}
