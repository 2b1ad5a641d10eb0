/** Pressure along a path and what the fuel boils at, at the end of each piece. */
import { marks, scale } from "../../kit/plot";
import type { Figure } from "../../worksheets/Answer";

type Piece = { id: string; kPa: number; boils_kPa: number; U_kPa: number };
const [WIDE, HIGH, LEFT, FOOT] = [640, 260, 52, 64];

export const Pressures: Figure = ({ figure }) => {
  const pieces = figure.pressure as Piece[] | undefined;
  if (!pieces?.length) return null;
  const all = pieces.flatMap((p) => [p.kPa, p.boils_kPa + p.U_kPa, p.boils_kPa - p.U_kPa]);
  const range = [Math.min(...all) * 0.96, Math.max(...all) * 1.04] as const;
  const y = scale(range, [HIGH - FOOT, 10]);
  const x = (i: number) => LEFT + ((i + 0.5) * (WIDE - LEFT)) / pieces.length;
  const through = (of: (p: Piece) => number) =>
    pieces.map((p, i) => `${i ? "L" : "M"}${x(i).toFixed(1)} ${y(of(p)).toFixed(1)}`).join("");
  const band = `${through((p) => p.boils_kPa + p.U_kPa)}${[...pieces]
    .reverse()
    .map((p, k) => `L${x(pieces.length - 1 - k).toFixed(1)} ${y(p.boils_kPa - p.U_kPa).toFixed(1)}`)
    .join("")}Z`;
  return (
    <figure className="pressures">
      <svg
        viewBox={`0 0 ${WIDE} ${HIGH}`}
        role="img"
        aria-label="Pressure and vapour pressure along the path"
      >
        {marks(range[0], range[1], 5).map((v) => (
          <g key={v}>
            <path className="grid" d={`M${LEFT} ${y(v)}H${WIDE}`} />
            <text x={LEFT - 6} y={y(v) + 4} textAnchor="end">
              {v.toFixed(0)}
            </text>
          </g>
        ))}
        <text x={0} y={14}>
          kPa
        </text>
        <path className="boils" d={band} />
        <path className="boils-line" d={through((p) => p.boils_kPa)} />
        <path className="pressure-line" d={through((p) => p.kPa)} />
        {pieces.map((p, i) => (
          <g key={p.id}>
            <circle cx={x(i)} cy={y(p.kPa)} r={5} className={p.kPa < p.boils_kPa ? "bad" : ""} />
            <text
              x={x(i)}
              y={HIGH - FOOT + 16}
              textAnchor="end"
              transform={`rotate(-24 ${x(i)} ${HIGH - FOOT + 16})`}
            >
              {p.id}
            </text>
          </g>
        ))}
      </svg>
      <figcaption className="quiet">
        Line with dots: pressure in the fuel, absolute. Dashed with its band: the pressure at which
        it boils there, with U.
      </figcaption>
    </figure>
  );
};
