/** A document of the aircraft, with its revision. */
import { useState } from "react";

import { useWrite } from "../app/useWrite";
import { TextField } from "../kit/fields";
import { Entry } from "../kit/Entry";
import "./sources.css";
import { unless } from "../kit/unless";

export function NewDocument() {
  const { write, error, busy } = useWrite();
  const [doc, setDoc] = useState({ title: "", revision: "" });
  const add = async () => {
    if (await write("sources", doc, `document ${doc.title}`))
      setDoc(unless(doc, { title: "", revision: "" }));
  };
  return (
    <Entry
      label="New document"
      save={add}
      button="Add document"
      variant="outline-primary"
      off={busy}
      error={error}
    >
      <TextField
        label="New document"
        value={doc.title}
        hint="Drawing 27-02"
        set={(title) => setDoc({ ...doc, title })}
      />
      <TextField
        label="Revision"
        value={doc.revision}
        hint="A"
        set={(revision) => setDoc({ ...doc, revision })}
      />
    </Entry>
  );
}
