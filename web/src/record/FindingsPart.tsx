/** Findings in a bay: raised, answered, closed by who raised them or by a counselor. */
import { useState } from "react";
import { useOutletContext } from "react-router";

import type { FrameContext } from "../app/Frame";
import { useFindings } from "../app/queries";
import { useWrite } from "../app/useWrite";
import { TextField } from "../kit/fields";
import { Said } from "../marks/Said";
import { when } from "../marks/words";
import { Photos } from "./Photos";
import { Entry } from "../kit/Entry";
import "./record.css";
import { unless } from "../kit/unless";

export function FindingsPart({ bay }: { bay: string }) {
  const { aircraft } = useOutletContext<FrameContext>();
  const findings = useFindings(aircraft.slug, bay);
  const { write, error, busy } = useWrite();
  const [text, setText] = useState("");
  const may = aircraft.may;
  const raise = async () => {
    if (await write("findings", { text, bay }, `finding ${text}`)) setText(unless(text, ""));
  };
  return (
    <>
      <h2>Findings</h2>
      {findings.data?.count === 0 && <p className="quiet">None open.</p>}
      <ul className="happened">
        {findings.data?.results.map((f) => (
          <FindingItem
            key={f.id}
            finding={f}
            answer={(how, close) => write(`findings/${f.id}`, { how, close }, "answer a finding")}
            may={f.can_close || may.includes("measure")}
          />
        ))}
      </ul>
      {may.includes("find fault") && (
        <Entry
          label="New finding"
          save={raise}
          button="Raise finding"
          variant="outline-primary"
          off={busy}
        >
          <TextField label="What is wrong" value={text} set={setText} />
        </Entry>
      )}
      <Said error={error} />
    </>
  );
}

type Finding = {
  id: number;
  text: string;
  raised_by: string;
  raised_at: string;
  answer: string;
  can_close: boolean;
};

function FindingItem(p: {
  finding: Finding;
  may: boolean;
  answer: (how: string, close: boolean) => Promise<unknown>;
}) {
  const f = p.finding;
  const [how, setHow] = useState("");
  return (
    <li>
      <strong>{f.text}</strong>
      <p className="quiet">
        {f.raised_by}, {when(f.raised_at)}
      </p>
      {f.answer && <p>Answered: {f.answer}</p>}
      <details>
        <summary>Pictures of it</summary>
        <Photos
          of={{ target: "finding", target_id: String(f.id) }}
          target="finding"
          targetId={String(f.id)}
        />
      </details>
      {p.may && (
        <Entry
          label="Answer"
          save={() => void p.answer(how, f.can_close)}
          button={f.can_close ? "Close finding" : "Answer"}
          variant="outline-primary"
        >
          <TextField label="What was done about it" value={how} set={setHow} />
        </Entry>
      )}
    </li>
  );
}
