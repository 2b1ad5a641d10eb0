/** Notes in a bay. */
import Button from "react-bootstrap/Button";
import { useState } from "react";
import { useOutletContext } from "react-router";

import type { FrameContext } from "../app/Frame";
import { useNotes } from "../app/queries";
import { useWrite } from "../app/useWrite";
import { TextField } from "../marks/fields";
import { Said } from "../marks/Said";
import { when } from "../marks/words";

export function NotesPart({ bay }: { bay: string }) {
  const { aircraft, session } = useOutletContext<FrameContext>();
  const notes = useNotes(aircraft.slug, bay);
  const { write, error, busy } = useWrite();
  const [text, setText] = useState("");
  const add = async () => {
    if (await write("notes", { text, target: "bay", target_id: bay }, `note ${text}`)) setText("");
  };
  return (
    <>
      <h2>Notes</h2>
      <ul className="happened">
        {notes.data?.results.map((n) => (
          <li key={n.id}>
            {n.text}
            <p className="quiet">
              {n.by}, {when(n.at)}{" "}
              {n.by === session.name && (
                <button
                  type="button"
                  className="plain"
                  onClick={() => void write(`notes/${n.id}/withdraw`, {}, "take a note back")}
                >
                  Take back
                </button>
              )}
            </p>
          </li>
        ))}
      </ul>
      {aircraft.may.includes("write") && (
        <form
          className="inline-form"
          aria-label="New note"
          onSubmit={(e) => {
            e.preventDefault();
            void add();
          }}
        >
          <TextField label="Note" value={text} set={setText} />
          <Button type="submit" variant="outline-primary" disabled={busy}>
            Keep note
          </Button>
          <Said error={error} />
        </form>
      )}
    </>
  );
}
