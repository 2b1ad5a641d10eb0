/** Mass over arm with the envelope: what is laid over it is drawn by the same scales. */
import type { ReactNode } from "react";

import { marks, type Scale, scale } from "../kit/plot";
import type { Chord, Point } from "./figures";

const [WIDE, HIGH, LEFT, FOOT, TOP] = [640, 430, 52, 46, 26];

export function EnvelopeChart(p: {
  label: string;
  envelope: readonly Point[];
  /** What else must be in view. */
  points: readonly Point[];
  mac?: Chord;
  children: (x: Scale, y: Scale) => ReactNode;
}) {
  const all = [...p.envelope, ...p.points];
  if (all.length === 0) return null;
  const range = (k: 0 | 1, room: number): [number, number] => {
    const values = all.map((q) => q[k]);
    const [low, high] = [Math.min(...values), Math.max(...values)];
    const more = Math.max((high - low) * room, 1);
    return [low - more, high + more];
  };
  const [across, up] = [range(0, 0.08), range(1, 0.08)];
  const x = scale(across, [LEFT, WIDE - 12]);
  const y = scale(up, [HIGH - FOOT, TOP]);
  const percent = (mm: number) =>
    p.mac ? ((mm - p.mac.edge_mm) / p.mac.chord_mm) * 100 : Number.NaN;
  const path = (points: readonly Point[]) =>
    points.map(([a, b], i) => `${i ? "L" : "M"}${x(a).toFixed(1)} ${y(b).toFixed(1)}`).join("");
  return (
    <svg className="envelope-chart" viewBox={`0 0 ${WIDE} ${HIGH}`} role="img" aria-label={p.label}>
      {marks(up[0], up[1], 6).map((v) => (
        <g key={v}>
          <path className="grid" d={`M${LEFT} ${y(v)}H${WIDE - 12}`} />
          <text x={LEFT - 6} y={y(v) + 4} textAnchor="end">
            {v.toFixed(0)}
          </text>
        </g>
      ))}
      {marks(across[0], across[1], 7).map((v) => (
        <g key={v}>
          <path className="grid" d={`M${x(v)} ${TOP}V${HIGH - FOOT}`} />
          <text x={x(v)} y={HIGH - FOOT + 18} textAnchor="middle">
            {v.toFixed(0)}
          </text>
        </g>
      ))}
      {p.mac &&
        marks(percent(across[0]), percent(across[1]), 6).map((v) => (
          <text
            key={v}
            className="quiet-text"
            x={x((p.mac?.edge_mm ?? 0) + ((p.mac?.chord_mm ?? 0) * v) / 100)}
            y={TOP - 10}
            textAnchor="middle"
          >
            {v.toFixed(0)} %
          </text>
        ))}
      <text x={0} y={TOP + 10}>
        kg
      </text>
      <text x={WIDE - 12} y={HIGH - 8} textAnchor="end">
        arm, mm aft of the datum{p.mac ? "; above: % of the mean chord" : ""}
      </text>
      {p.envelope.length > 0 && <path className="envelope" d={`${path(p.envelope)}Z`} />}
      {p.children(x, y)}
    </svg>
  );
}

/** A line through points by the chart's scales. */
export const through = (points: readonly Point[], x: Scale, y: Scale): string =>
  points.map(([a, b], i) => `${i ? "L" : "M"}${x(a).toFixed(1)} ${y(b).toFixed(1)}`).join("");
