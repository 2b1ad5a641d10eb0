/** A section at a station: the wires in each bundle, and what passes beside it, to scale. */
import { packSiblings } from "d3-hierarchy";
import { useState } from "react";
import { useOutletContext } from "react-router";

import type { HarnessRow, HarnessSection } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { useHarnessSection } from "../app/queries";
import { TextField } from "../kit/fields";
import { Waiting } from "../marks/Said";

type Cut = HarnessSection["cuts"][number];
const [WIDE, HIGH] = [340, 260];
/** Drawn at least so much around the bundle, and a neighbour shown if it is nearer than this, mm. */
const [ROOM, NEAR] = [10, 90];

export function BundleSection({ row, pick }: { row: HarnessRow; pick: (slug: string) => void }) {
  const { aircraft } = useOutletContext<FrameContext>();
  const [at, setAt] = useState(() => middle(String(row.typed.points ?? "")));
  const section = useHarnessSection(aircraft.slug, at);
  const cuts = section.data?.cuts ?? [];
  const mine = cuts.filter((c) => c.row === row.slug);
  return (
    <section aria-label="Section">
      <h2>Section at a station</h2>
      <div className="inline-form">
        <TextField label="Station" value={at} set={setAt} hint="3050 mm" />
      </div>
      {at && section.error && <Waiting error={section.error} />}
      {section.data && mine.length === 0 && <p>It does not pass there.</p>}
      {mine[0] && <Drawn cuts={cuts} here={mine[0]} pick={pick} />}
      {mine[0] && <Listed cuts={cuts} here={mine[0]} />}
    </section>
  );
}

function Drawn(p: { cuts: Cut[]; here: Cut; pick: (slug: string) => void }) {
  const away = p.cuts
    .filter((c) => c !== p.here)
    .map((c) => Math.max(Math.abs(c.z_mm - p.here.z_mm), Math.abs(c.y_mm - p.here.y_mm) * 0.77));
  const next = Math.min(...away.filter((d) => d < NEAR), NEAR);
  const reach = Math.max(ROOM, (p.here.radius_mm ?? 0) * 4, next < NEAR ? next * 1.25 : 0);
  const bar = reach < 25 ? 5 : 20;
  const near = p.cuts.filter(
    (c) =>
      Math.abs(c.y_mm - p.here.y_mm) < reach * (WIDE / HIGH) &&
      Math.abs(c.z_mm - p.here.z_mm) < reach,
  );
  const scale = HIGH / 2 / reach;
  const x = (c: { y_mm: number }) => WIDE / 2 + (c.y_mm - p.here.y_mm) * scale;
  const y = (c: { z_mm: number }) => HIGH / 2 - (c.z_mm - p.here.z_mm) * scale;
  return (
    <svg
      className="section-view"
      viewBox={`0 0 ${WIDE} ${HIGH}`}
      role="group"
      aria-label={`Section, seen from behind: ${near.map((c) => c.name).join(", ")}`}
    >
      {near.map((c) => (
        <g key={`${c.name} ${c.y_mm} ${c.z_mm}`} transform={`translate(${x(c)} ${y(c)})`}>
          {c.radius_mm === null ? (
            <text className="unknown" textAnchor="middle" y={4}>
              ?
            </text>
          ) : (
            <circle r={c.radius_mm * scale} className={CLASS[c.kind] ?? "bundle"} />
          )}
          {packed(c).map((w) => (
            <circle
              key={w.slug}
              className="wire"
              cx={w.x * scale}
              cy={w.y * scale}
              r={w.r * scale}
              onClick={() => p.pick(w.slug)}
            >
              <title>{w.name}</title>
            </circle>
          ))}
          <text textAnchor="middle" y={(c.radius_mm ?? 0) * scale + 15}>
            {c.name}
          </text>
        </g>
      ))}
      <path className="rule" d={`M12 ${HIGH - 10}h${bar * scale}m0 -4v8m${-bar * scale} 0v-8`} />
      <text x={16} y={HIGH - 16}>
        {bar} mm
      </text>
    </svg>
  );
}

const CLASS: Record<string, string> = { tube: "tube", "control cable": "cable" };

/** Its wires as circles that touch; those of which nobody said the diameter are in the list. */
function packed(c: Cut) {
  const known = c.wires.flatMap((w) => (w.od_mm === null ? [] : [{ ...w, r: w.od_mm / 2 }]));
  return packSiblings(known);
}

function Listed({ cuts, here }: { cuts: Cut[]; here: Cut }) {
  const others = cuts
    .filter((c) => c !== here)
    .map((c) => ({ c, far: Math.hypot(c.y_mm - here.y_mm, c.z_mm - here.z_mm) }))
    .sort((a, b) => a.far - b.far);
  const unknown = here.wires.filter((w) => w.od_mm === null);
  return (
    <>
      <p>
        {here.name}: butt line {here.y_mm.toFixed(0)} mm, water line {here.z_mm.toFixed(0)} mm
        {here.radius_mm !== null && `, ${(2 * here.radius_mm).toFixed(1)} mm thick`}.
      </p>
      {unknown.length > 0 && (
        <p>Without a diameter, and not drawn: {unknown.map((w) => w.name).join(", ")}.</p>
      )}
      {others.length > 0 && (
        <ul className="happened">
          {others.slice(0, 6).map(({ c, far }) => (
            <li key={`${c.name} ${c.y_mm} ${c.z_mm}`}>
              {c.name}, {c.kind}: {far.toFixed(0)} mm between centres
            </li>
          ))}
        </ul>
      )}
    </>
  );
}

/** The station in the middle of a way as typed; empty where it has none. */
function middle(points: string): string {
  const stations = points
    .split(";")
    .filter((_, n) => n % 3 === 0)
    .map((s) => Number.parseFloat(s))
    .filter((s) => Number.isFinite(s));
  if (stations.length < 2) return "";
  return String(Math.round((Math.min(...stations) + Math.max(...stations)) / 2));
}
