/** Does each surface do what the drawing asks, and what is to be done about it? */
import { useState } from "react";
import { Navigate, useOutletContext, useParams, useSearchParams } from "react-router";

import type { Requirement, Sheet } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { useControls, useSheet } from "../app/queries";
import { useBay } from "../aircraft/useBay";
import { Waiting } from "../marks/Said";
import { limit, range, requirementName, shown } from "../marks/words";
import { NewControl } from "./NewControl";
import { Paperwork } from "./Paperwork";
import { RoundBar } from "./RoundBar";
import { StaleNote } from "./StaleNote";
import { Standing } from "./Standing";
import { Subjects } from "./Subjects";
import { SurfaceFigure } from "./SurfaceFigure";
import { VerdictSheet } from "./VerdictSheet";
import "./controls.css";

export function ControlsPage() {
  const { aircraft } = useOutletContext<FrameContext>();
  const { control } = useParams();
  const [search] = useSearchParams();
  const controls = useControls(aircraft.slug);
  const first = controls.data?.results[0];
  if (!controls.data) return <Waiting error={controls.error} />;
  const owner = aircraft.may.includes("change facts");
  if (!first)
    return (
      <div className="controls">
        <p className="page-in">
          No controls yet.{" "}
          {owner ? "Add the first: its surfaces come with it." : "The owner adds them."}
        </p>
        {owner && <NewControl />}
      </div>
    );
  if (!control)
    return (
      <Navigate replace to={`/a/${aircraft.slug}/controls/${first.slug}?${search.toString()}`} />
    );
  return (
    <div className="controls">
      <Subjects slug={aircraft.slug} control={control} here="" />
      {search.has("new") && owner ? (
        <NewControl />
      ) : (
        <OneControl key={control} slug={aircraft.slug} control={control} />
      )}
    </div>
  );
}

function OneControl({ slug, control }: { slug: string; control: string }) {
  const [search, setSearch] = useSearchParams();
  const [bay] = useBay();
  const round = Number(search.get("round")) || undefined;
  const sheet = useSheet(slug, control, round);
  const [first, setFirst] = useState<number | null>(null);
  if (!sheet.data) return <Waiting error={sheet.error} />;
  const s = sheet.data;
  const wanted = Number(search.get("q")) || first;
  const here = inBay(s, bay);
  const chosen =
    s.requirements.find((q) => q.id === wanted) ?? worst(here) ?? worst(s.requirements);
  // What was worst when the page opened stays chosen while it is mended.
  if (first === null && chosen) setFirst(chosen.id);
  const choose = (q: Requirement) => {
    setSearch((before) => {
      const after = new URLSearchParams(before);
      after.set("q", String(q.id));
      return after;
    });
  };
  return (
    <div className="subject">
      <section className="figure" aria-label="Figure">
        <div className={`surfaces surfaces-${s.surfaces.length}`}>
          {s.surfaces.map((one) => (
            <SurfaceFigure key={one.slug} surface={one} sheet={s} chosen={chosen} choose={choose} />
          ))}
        </div>
        <StaleNote slug={slug} control={s.slug} />
        <RoundBar sheet={s} />
        <RequirementTable
          sheet={s}
          list={here.length ? here : s.requirements}
          chosen={chosen}
          choose={choose}
        />
        <Paperwork slug={slug} sheet={s} />
      </section>
      {chosen ? (
        <VerdictSheet key={chosen.id} slug={slug} sheet={s} q={chosen} />
      ) : (
        <section className="verdict-sheet">
          <p>Nothing is required here yet. Add what the drawing asks under “Requirements”.</p>
        </section>
      )}
    </div>
  );
}

/** What to look at first: the worst, in the order of the sheet. */
function worst(list: Requirement[]): Requirement | undefined {
  for (const v of ["out", "stale", "too close", "not measured"] as const) {
    const found = list.find((q) => q.result.verdict === v);
    if (found) return found;
  }
  return list[0];
}

function inBay(s: Sheet, bay: string | null): Requirement[] {
  if (!bay) return s.requirements;
  const slugs = s.surfaces.filter((x) => x.bay === bay).map((x) => x.slug);
  return s.requirements.filter((q) => slugs.includes(q.surface));
}

function RequirementTable(p: {
  sheet: Sheet;
  list: Requirement[];
  chosen: Requirement | undefined;
  choose: (q: Requirement) => void;
}) {
  const name = (q: Requirement) =>
    p.sheet.surfaces.find((x) => x.slug === q.surface)?.name ?? p.sheet.name;
  return (
    <table className="asked">
      <thead>
        <tr>
          <th scope="col">Surface</th>
          <th scope="col">Position</th>
          <th scope="col" className="num">
            Required
          </th>
          <th scope="col" className="num">
            Measured
          </th>
          <th scope="col">Verdict</th>
        </tr>
      </thead>
      <tbody>
        {p.list.map((q) => (
          <tr
            key={q.id}
            className={q.id === p.chosen?.id ? "chosen" : ""}
            onClick={() => p.choose(q)}
          >
            <td>{name(q)}</td>
            <td>
              <button type="button" className="plain" aria-pressed={q.id === p.chosen?.id}>
                {requirementName(q)}
              </button>
            </td>
            <td className="num">
              {q.no_tolerance
                ? `${limit(q.lo ?? 0, q.kind === "ratio" ? "" : "°")}, no tolerance`
                : range(q.lo, q.hi, q.kind === "ratio" ? "" : "°")}
            </td>
            <td className="num">
              {q.result.value === null
                ? "–"
                : `${shown(q.result.value, q.result.unit, q.kind === "ratio" ? 2 : 1)} ± ${shown(q.result.U, q.result.unit, q.kind === "ratio" ? 2 : 1)}`}
            </td>
            <td>
              <Standing q={q} />
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
