/** The linkage as open files, out and in. */
import { useOutletContext } from "react-router";

import type { FrameContext } from "../../app/Frame";
import type { Linkage, Sheet, Solved } from "../../app/api";
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
