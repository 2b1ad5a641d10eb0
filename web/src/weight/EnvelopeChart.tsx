/** Mass over arm, or over moment, with the envelope: what is laid over it is drawn by the same
 * scales. */
import { type ReactNode, useState } from "react";

import { marks, scale } from "../kit/plot";
import type { Chord, Point } from "./figures";

const [WIDE, HIGH, LEFT, FOOT, TOP] = [640, 430, 52, 46, 26];

export function EnvelopeChart(p: {
  label: string;
  envelope: readonly Point[];
  /** What else must be in view. */
  points: readonly Point[];
  mac?: Chord;
  /** What is drawn in it, by where a point of arm and mass lies on the paper. */
  children: (at: Place) => ReactNode;
}) {
  const [moment, setMoment] = useState(false);
  if (p.envelope.length + p.points.length === 0) return null;
  /** An edge that is straight in arms is bent in moments: it is followed in small steps. */
  const flat = ([mm, kg]: Point): Point => (moment ? [(mm * kg) / 1e3, kg] : [mm, kg]);
  const all = [...p.envelope, ...p.points].map(flat);
  const range = (k: 0 | 1, room: number): [number, number] => {
    const values = all.map((q) => q[k]);
    const [low, high] = [Math.min(...values), Math.max(...values)];
    const more = Math.max((high - low) * room, 1);
    return [low - more, high + more];
  };
  const [across, up] = [range(0, 0.08), range(1, 0.08)];
  const x = scale(across, [LEFT, WIDE - 12]);
  const y = scale(up, [HIGH - FOOT, TOP]);
  const at: Place = (q) => {
    const [across_, mass] = flat(q);
    return [x(across_), y(mass)];
  };
  const mac = moment ? null : p.mac;
  const percent = (mm: number) => (mac ? ((mm - mac.edge_mm) / mac.chord_mm) * 100 : Number.NaN);
  return (
    <>
      <div className="planes" role="group" aria-label="Drawn over">
        {(
          [
            [false, "over arm"],
            [true, "over moment"],
          ] as const
        ).map(([of, word]) => (
          <button
            key={word}
            type="button"
            className="plain"
            aria-pressed={moment === of}
            onClick={() => setMoment(of)}
          >
            {word}
          </button>
        ))}
      </div>
      <svg
        className="envelope-chart"
        viewBox={`0 0 ${WIDE} ${HIGH}`}
        role="img"
        aria-label={p.label}
      >
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
        {mac &&
          marks(percent(across[0]), percent(across[1]), 6).map((v) => (
            <text
              key={v}
              className="quiet-text"
              x={x(mac.edge_mm + (mac.chord_mm * v) / 100)}
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
          {moment
            ? "moment about the datum, kg·m"
            : `arm, mm aft of the datum${mac ? "; above: % of the mean chord" : ""}`}
        </text>
        {p.envelope.length > 0 && (
          <path className="envelope" d={`${through(closed(p.envelope), at)}Z`} />
        )}
        {p.children(at)}
      </svg>
    </>
  );
}

/** From arm (mm) and mass (kg) to a place on the paper. */
export type Place = (q: Point) => readonly [number, number];
const STEPS = 12;

/** The outline with its closing edge, in small steps. */
const closed = (points: readonly Point[]): Point[] => {
  const [first] = points;
  return first ? fine([...points, first]) : [];
};

/** Points with others between them, on straight lines of arm and mass. */
export const fine = (points: readonly Point[]): Point[] =>
  points.flatMap((q, i): Point[] => {
    const next = points[i + 1];
    if (!next) return [q];
    return Array.from({ length: STEPS }, (_, n) => [
      q[0] + ((next[0] - q[0]) * n) / STEPS,
      q[1] + ((next[1] - q[1]) * n) / STEPS,
    ]);
  });

/** The way of a load that comes on board little by little: straight in moment and mass. */
export const loaded = (points: readonly Point[]): Point[] =>
  fine(points.map(([mm, kg]) => [mm * kg, kg])).map(([moment, kg]) => [moment / kg, kg]);

/** A line through points by the chart's scales. */
export const through = (points: readonly Point[], at: Place): string =>
  points
    .map((q, i) => {
      const [x, y] = at(q);
      return `${i ? "L" : "M"}${x.toFixed(1)} ${y.toFixed(1)}`;
    })
    .join("");
