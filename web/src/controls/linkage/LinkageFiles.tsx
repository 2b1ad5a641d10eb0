/** The linkage as open files, out and in; and the first one of a control. */
import { useOutletContext } from "react-router";
import Button from "react-bootstrap/Button";

import type { FrameContext } from "../../app/Frame";
import type { Linkage, Sheet, Solved } from "../../app/api";
import { useWrite } from "../../app/useWrite";
import { KeepBar } from "./GeometryPart";
import type { Trial } from "./useLinkageTrial";
import { FilePart } from "../../kit/FilePart";
import { TakeAway } from "../../kit/TakeAway";

type Props = { linkage: Linkage; kept: Linkage; solved: Solved; sheet: Sheet; trial: Trial };

export function LinkageFiles(p: Props) {
  const { aircraft } = useOutletContext<FrameContext>();
  const at = `/api/aircraft/${aircraft.slug}/controls/${p.sheet.slug}/linkage`;
  return (
    <>
      <p>
        <a href={`${at}/file.json`}>Linkage as JSON</a>,{" "}
        <a href={`${at}/points.csv`}>points as CSV</a>,{" "}
        <a href="/api/schemas/mechanism">the file's JSON Schema</a>.
      </p>
      <KeepBar {...p} />
      <FilePart
        take={p.trial.attempt}
        button="Try this file"
        variant="outline-primary"
        error={p.trial.error}
      />
      {aircraft.may.includes("change facts") && (
        <TakeAway
          what="this linkage"
          at={`controls/${p.sheet.slug}/linkage`}
          version={p.kept.version}
          hint="Its jam nuts go with it. What was turned on it keeps it here."
        />
      )}
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
  const { write, error, busy } = useWrite();
  if (!aircraft.may.includes("change facts"))
    return <p className="p-3">No linkage is described yet for this control.</p>;
  const keep = (document: unknown) =>
    void write(`controls/${control}/linkage`, { version: 0, document }, "Linkage", "PUT");
  return (
    <div className="page">
      <h1>No linkage is described yet</h1>
      <p>
        Measure every pivot and hole in aircraft axes, write them into a linkage file (
        <a href="/api/schemas/mechanism">its JSON Schema</a>; take another control's file as a
        pattern), and bring it in. Then it moves here, and its travel is known before anything is
        drilled.
      </p>
      <FilePart take={keep} button="Bring it in" off={busy} error={error}>
        <p>
          Or begin with the stick alone, and add levers one by one:{" "}
          <Button variant="outline-primary" disabled={busy} onClick={() => keep(STICK)}>
            Begin with a stick
          </Button>
        </p>
      </FilePart>
    </div>
  );
}
