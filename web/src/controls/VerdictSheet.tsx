/** The sheet of one requirement: required, measured, verdict, what next, record. */
import { useState } from "react";
import { useOutletContext } from "react-router";

import type { ReadingSet, Requirement, Sheet } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { Caution } from "../marks/Said";
import { VerdictMark } from "../marks/VerdictMark";
import { Why } from "../marks/Why";
import { capital, plain, range, requirementName, shown, when } from "../marks/words";
import { CaptureRow } from "./CaptureRow";
import { ConflictPart } from "./ConflictPart";
import { ReadingList } from "./ReadingList";
import { Standing } from "./Standing";
import { RequirementForm } from "./RequirementForm";

export function VerdictSheet({ slug, sheet, q }: { slug: string; sheet: Sheet; q: Requirement }) {
  const { aircraft } = useOutletContext<FrameContext>();
  const [editing, setEditing] = useState(false);
  const r = q.result;
  const surface = sheet.surfaces.find((s) => s.slug === q.surface);
  const unit = q.kind === "ratio" ? "" : "°";
  const digits = q.kind === "ratio" ? 2 : 1;
  const latest = sheet.round === sheet.rounds.at(-1)?.number;
  const measurable = surface && (q.kind === "travel" || q.kind === "neutral");
  const can = aircraft.may.includes("measure") || aircraft.may.includes("check");
  return (
    <section className="verdict-sheet" aria-label="Verdict sheet">
      <h1>
        {surface?.name ?? sheet.name}, {requirementName(q)}
      </h1>
      <dl>
        <div>
          <dt>Required</dt>
          <dd className="number">
            {range(q.lo, q.hi, unit)}
            {q.no_tolerance && <small> no tolerance given</small>}
          </dd>
        </div>
      </dl>
      <p className="source">
        {q.source.cited}
        {q.source.page && `, ${q.source.page}`}
        {aircraft.may.includes("change facts") && (
          <button type="button" className="plain" onClick={() => setEditing(!editing)}>
            {editing ? "Leave as it is" : "Change"}
          </button>
        )}
      </p>
      {editing && (
        <RequirementForm
          key={q.version}
          slug={slug}
          q={q}
          name={`${surface?.name ?? sheet.name}, ${requirementName(q)}`}
          onDone={() => setEditing(false)}
        />
      )}
      {q.changes.map((c) => (
        <p key={c.at} className="source">
          Changed from {c.was} to {c.became}
          {c.reason && <>, because {c.reason}</>}. {c.by}, {when(c.at)}.
        </p>
      ))}
      <dl>
        <div>
          <dt>Measured</dt>
          <dd className="number number-big">
            {shown(r.value, unit, digits)}
            {r.U !== null && <small> ± {shown(r.U, unit, digits)}</small>}
          </dd>
        </div>
      </dl>
      {r.governing !== null && <SetLine set={r.sets[r.governing]} lead />}
      <div className="verdict-line" aria-live="polite">
        <Standing q={q} big />
        <Why why={r.why} />
      </div>
      <ul className="advice">
        {r.advice.map((a) => (
          <li key={a}>{a}</li>
        ))}
      </ul>
      {r.conflict && <ConflictPart sheet={sheet} q={q} />}
      {r.sets.length > 1 && (
        <div className="ways">
          <h2>Ways of measuring</h2>
          {r.sets.map((s, i) => (
            <SetLine key={i} set={s} />
          ))}
        </div>
      )}
      {measurable && latest && can && (
        <CaptureRow
          key={`${q.surface}/${q.position}`}
          slug={slug}
          sheet={sheet}
          q={q}
          surface={surface}
        />
      )}
      {!latest && <p className="quiet">An earlier round: kept as it was, closed for readings.</p>}
      {measurable && <ReadingList sheet={sheet} q={q} />}
      <Caution>
        Wrong, reversed or unequal travel can make an aircraft uncontrollable. The kit maker's data
        come first; a second person checks flight controls before flight. In is about this
        measurement.
      </Caution>
    </section>
  );
}

function SetLine({ set, lead }: { set: ReadingSet | undefined; lead?: boolean }) {
  if (!set) return null;
  const how = [plain(set.method), plain(set.practice)].filter(Boolean).join(", ");
  return (
    <p className={lead ? "source" : "way"}>
      {!lead && <VerdictMark verdict={set.verdict} />}
      {!lead && set.value_deg !== null && (
        <span className="num">
          {shown(set.value_deg, "°", 2)} ± {shown(set.U_deg, "°", 2)}{" "}
        </span>
      )}
      {capital(how)}, {set.instrument}
      {set.servo && `, servo ${set.servo}`}, {set.n === 1 ? "one reading" : `${set.n} readings`}
      {set.missing && <em> {set.missing}.</em>}
      {set.candidates_deg.length > 0 && (
        <em> It could be {set.candidates_deg.map((c) => shown(c, "°")).join(" or ")}.</em>
      )}{" "}
      <Why why={set.method_why} text="Method" />
    </p>
  );
}
