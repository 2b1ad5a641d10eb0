/** The documents with their revisions: what is cited, and a new revision of one. */
import Button from "react-bootstrap/Button";
import { useState } from "react";

import type { Documents } from "../app/api";
import { useWrite } from "../app/useWrite";
import { Entry } from "../kit/Entry";
import { TextField } from "../kit/fields";
import { TakeAway } from "../kit/TakeAway";
import { Said } from "../marks/Said";
import { plural } from "../marks/words";
import { NewDocument } from "./NewDocument";

export function DocumentList({
  documents,
  may,
}: {
  documents: Documents["documents"];
  may: boolean;
}) {
  const { write, error, busy } = useWrite();
  const [revising, setRevising] = useState<number | null>(null);
  const [revision, setRevision] = useState("");
  const [reason, setReason] = useState("");
  return (
    <>
      <h2>Documents</h2>
      <ul className="happened">
        {documents.map((d) => (
          <li key={d.id}>
            <strong>{d.cited}</strong>{" "}
            <span className="quiet">
              {d.dated && `${d.dated}, `}
              {plural(d.cited_by, "travel requirement")}
            </span>{" "}
            {may && revising !== d.id && (
              <button
                type="button"
                className="plain"
                onClick={() => {
                  setRevising(d.id);
                  setRevision("");
                  setReason("");
                }}
              >
                Revise or take away
              </button>
            )}
            {revising === d.id && (
              <Entry
                label={`New revision of ${d.title}`}
                save={() => {
                  const body = { version: d.version, revision, reason };
                  void write(`documents/${d.id}`, body, `revision of ${d.title}`, "PATCH").then(
                    (done) => done && setRevising(null),
                  );
                }}
              >
                <TextField label="Revision" value={revision} set={setRevision} />
                <TextField
                  sentence
                  label="What is new in it"
                  value={reason}
                  set={setReason}
                  hint="sheet 3: up travel 24 to 26°"
                />
                <Button type="submit" disabled={busy}>
                  Keep revision
                </Button>
                <p className="quiet">
                  What was signed or decided under rev {d.revision} goes stale.
                </p>
              </Entry>
            )}
            {revising === d.id && (
              <>
                <TakeAway
                  what={d.cited}
                  at={`documents/${d.id}`}
                  version={d.version}
                  hint="Only a document that nothing cites can go."
                />{" "}
                <button type="button" className="plain" onClick={() => setRevising(null)}>
                  Leave as it is
                </button>
              </>
            )}
          </li>
        ))}
      </ul>
      {may && <NewDocument />}
      <Said error={error} />
    </>
  );
}
