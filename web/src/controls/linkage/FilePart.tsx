/** The linkage as open files, out and in; and the first one of a control. */
import { useState } from "react";
import { useOutletContext } from "react-router";
import Button from "react-bootstrap/Button";

import type { FrameContext } from "../../app/Frame";
import type { Linkage, Sheet, Solved } from "../../app/api";
import { useWrite } from "../../app/useWrite";
import { Said } from "../../marks/Said";
import { KeepBar } from "./GeometryPart";
import type { Trial } from "./useTrial";
import { Entry } from "../../kit/Entry";

type Props = { linkage: Linkage; kept: Linkage; solved: Solved; sheet: Sheet; trial: Trial };

/** The content of a chosen or pasted file, or what is wrong with it. */
function useFile() {
  const [text, setText] = useState("");
  const [bad, setBad] = useState("");
  const parsed = (): unknown => {
    try {
      setBad("");
      return JSON.parse(text) as unknown;
    } catch (e) {
      setBad(`The file is not JSON: ${e instanceof Error ? e.message : "it cannot be read"}`);
      return null;
    }
  };
  const field = (
    <>
      <label>
        Choose a file
        <input
          type="file"
          className="form-control"
          accept=".json,application/json"
          onChange={(e) => void e.target.files?.[0]?.text().then(setText)}
        />
      </label>
      <label className="paste">
        or paste it here
        <textarea
          className="form-control"
          rows={5}
          value={text}
          onChange={(e) => setText(e.target.value)}
        />
      </label>
      {bad && (
        <div className="said" role="alert">
          {bad}
        </div>
      )}
    </>
  );
  return { text, parsed, field };
}

export function FilePart(p: Props) {
  const { aircraft } = useOutletContext<FrameContext>();
  const { text, parsed, field } = useFile();
  const at = `/api/aircraft/${aircraft.slug}/controls/${p.sheet.slug}/linkage`;
  return (
    <>
      <p>
        <a href={`${at}/file.json`}>Linkage as JSON</a>,{" "}
        <a href={`${at}/points.csv`}>points as CSV</a>,{" "}
        <a href="/api/schemas/mechanism">the file's JSON Schema</a>.
      </p>
      <KeepBar {...p} />
      <Entry
        save={() => {
          const file = parsed();
          if (file !== null) void p.trial.attempt(file);
        }}
        className="paste"
        button="Try this file"
        variant="outline-primary"
        off={!text.trim()}
      >
        {field}
      </Entry>
      <Said error={p.trial.error} />
    </>
  );
}

/** The smallest linkage: one lever moved by hand, to be put where it is. */
const STICK = {
  inputs: { stick: { unit: "rad", positive: "stick aft", limit: 0.6 } },
  outputs: { stick: { body: "stick", sign: 1 } },
  bodies: [
    {
      id: "stick",
      kind: "turn",
      pivot: [2.5, 0, 0.3],
      axis: [0, 1, 0],
      driven_by: { input: "stick" },
      points: { grip: [2.5, 0, 0.76], low: [2.5, 0, 0.22] },
    },
  ],
  rods: [],
  stops: [],
};

/** Nothing there yet: what goes here, and the first step. */
export function FirstLinkage({ control }: { control: string }) {
  const { aircraft } = useOutletContext<FrameContext>();
  const { text, parsed, field } = useFile();
  const { write, error, busy } = useWrite();
  if (!aircraft.may.includes("change facts"))
    return <p className="p-3">No linkage is described yet for this control.</p>;
  return (
    <Entry
      save={() => {
        const document = parsed();
        if (document !== null)
          void write(`controls/${control}/linkage`, { version: 0, document }, "Linkage", "PUT");
      }}
      className="paste page"
      error={error}
    >
      <h1>No linkage is described yet</h1>
      <p>
        Measure every pivot and hole in aircraft axes, write them into a linkage file (
        <a href="/api/schemas/mechanism">its JSON Schema</a>; take another control's file as a
        pattern), and bring it in. Then it moves here, and its travel is known before anything is
        drilled.
      </p>
      {field}
      <Button type="submit" disabled={busy || !text.trim()}>
        Bring it in
      </Button>
      <p>
        Or begin with the stick alone, and add levers one by one:{" "}
        <Button
          variant="outline-primary"
          disabled={busy}
          onClick={() =>
            void write(
              `controls/${control}/linkage`,
              { version: 0, document: STICK },
              "Linkage",
              "PUT",
            )
          }
        >
          Begin with a stick
        </Button>
      </p>
    </Entry>
  );
}
