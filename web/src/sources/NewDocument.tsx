/** A document of the aircraft, with its revision. */
import Button from "react-bootstrap/Button";
import { useState } from "react";

import { useWrite } from "../app/useWrite";
import { TextField } from "../marks/fields";
import { Said } from "../marks/Said";

export function NewDocument() {
  const { write, error, busy } = useWrite();
  const [doc, setDoc] = useState({ title: "", revision: "" });
  const add = async () => {
    if (await write("sources", doc, `document ${doc.title}`)) setDoc({ title: "", revision: "" });
  };
  return (
    <form
      className="inline-form"
      aria-label="New document"
      onSubmit={(e) => {
        e.preventDefault();
        void add();
      }}
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
      <Button variant="outline-primary" type="submit" disabled={busy}>
        Add document
      </Button>
      <Said error={error} />
    </form>
  );
}
