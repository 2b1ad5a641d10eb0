/** Sources that disagree, side by side, and the decision between them. */
import { useState } from "react";
import { useOutletContext } from "react-router";

import type { Requirement, Sheet } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { useWrite } from "../app/useWrite";
import { Said } from "../marks/Said";
import { VerdictMark } from "../marks/VerdictMark";
import { range } from "../marks/words";
import { Entry } from "../kit/Entry";
import { TextField } from "../kit/fields";

export function ConflictPart({ sheet, q }: { sheet: Sheet; q: Requirement }) {
  const { aircraft } = useOutletContext<FrameContext>();
  const { write, error, busy } = useWrite();
  const [chosen, setChosen] = useState<number | null>(null);
  const [reason, setReason] = useState("");
  const c = q.result.conflict;
  if (!c) return null;
  const decide = () =>
    write(
      `controls/${sheet.slug}/decisions`,
      { requirement: chosen, reason },
      "decision between sources",
    );
  return (
    <section className="conflict" aria-label="Sources">
      <h2>
        {c.decided ? "Decided between sources" : "Sources disagree"}{" "}
        <span className="quiet">{c.relation}</span>
      </h2>
      <ul>
        {c.sides.map((s) => (
          <li key={s.requirement}>
            <label className="tick">
              {!c.decided && aircraft.may.includes("change facts") && (
                <input
                  type="radio"
                  name="source"
                  checked={chosen === s.requirement}
                  onChange={() => setChosen(s.requirement)}
                />
              )}
              <span>
                <strong>{range(s.lo_deg, s.hi_deg, "°")}</strong> {s.cited}
                {c.decided === s.requirement && " (chosen)"}
              </span>
              {c.decided !== null && c.decided !== s.requirement ? (
                <span className="verdict quiet">does not count</span>
              ) : (
                <VerdictMark verdict={s.verdict} word />
              )}
            </label>
          </li>
        ))}
      </ul>
      {c.decided && (
        <p className="quiet">
          {c.decided_by}: {c.reason}
        </p>
      )}
      {!c.decided && chosen !== null && (
        <Entry save={decide} button="Decide" off={busy}>
          <TextField label="Why this one; who answered" value={reason} set={setReason} />
        </Entry>
      )}
      <Said error={error} />
    </section>
  );
}
