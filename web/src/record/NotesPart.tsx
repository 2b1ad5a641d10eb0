/** Notes in a bay. */
import { useState } from "react";
import { useOutletContext } from "react-router";

import type { FrameContext } from "../app/Frame";
import { useNotes } from "../app/queries";
import { useWrite } from "../app/useWrite";
import { TextField } from "../kit/fields";
import { when } from "../marks/words";
import { Entry } from "../kit/Entry";
import "./record.css";
import { unless } from "../kit/unless";

export function NotesPart({ bay }: { bay: string }) {
  const { aircraft, session } = useOutletContext<FrameContext>();
  const notes = useNotes(aircraft.slug, bay);
  const { write, error, busy } = useWrite();
  const [text, setText] = useState("");
  const add = async () => {
    if (await write("notes", { text, target: "bay", target_id: bay }, `note ${text}`))
      setText(unless(text, ""));
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
        <Entry
          label="New note"
          save={add}
          button="Keep note"
          variant="outline-primary"
          off={busy}
          error={error}
        >
          <TextField label="Note" value={text} set={setText} />
        </Entry>
      )}
    </>
  );
}
