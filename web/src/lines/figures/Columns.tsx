/** A water column against airspeed, and a gauge through a leak test. */
import { marks, scale } from "../../kit/plot";
import type { Figure } from "../../worksheets/Answer";

/** The ladder to hold beside the column: one mark for each airspeed. */
export const Ladder: Figure = ({ figure }) => {
  const steps = figure.ladder as { kt: number; mm: number }[];
  const most = Math.max(...steps.map((s) => s.mm), 1);
  const y = scale([0, most], [300, 20]);
  return (
    <figure className="ladder">
      <svg viewBox="0 0 300 320" role="img" aria-label="Water column against airspeed">
        <path className="ruler" d={`M60 ${y(0)}V${y(most)}`} />
        {steps.map((s) => (
          <g key={s.kt}>
            <path className="ruler" d={`M60 ${y(s.mm)}h14`} />
            <text x={80} y={y(s.mm) + 4}>
              {s.kt} kt
            </text>
            <text x={54} y={y(s.mm) + 4} textAnchor="end">
              {s.mm.toFixed(0)}
            </text>
          </g>
        ))}
        <text x={54} y={y(0) + 14} textAnchor="end">
          mm
        </text>
      </svg>
      <figcaption className="quiet">
        Height of the column for each airspeed, not to scale here; printed to scale with the sheet.
      </figcaption>
    </figure>
  );
};

type Read = { minutes: number; kPa: number };

/** What was read, and what the gauge would show at the end without a leak. */
export const LeakGauge: Figure = ({ figure }) => {
  const gauge = figure.gauge as Read[];
  const still = figure.no_leak_kPa as number;
  const last = gauge[gauge.length - 1] ?? { minutes: 1, kPa: still };
  const first = gauge[0] ?? last;
  const all = [...gauge.map((g) => g.kPa), still];
  const room = Math.max(0.02, (Math.max(...all) - Math.min(...all)) * 0.25);
  const range = [Math.min(...all) - room, Math.max(...all) + room] as const;
  const [x, y] = [scale([0, last.minutes], [60, 560]), scale(range, [220, 14])];
  return (
    <figure className="pressures">
      <svg viewBox="0 0 640 264" role="img" aria-label="Gauge through the test">
        {marks(range[0], range[1], 4).map((v) => (
          <g key={v}>
            <path className="grid" d={`M60 ${y(v)}H600`} />
            <text x={54} y={y(v) + 4} textAnchor="end">
              {v.toFixed(2)}
            </text>
          </g>
        ))}
        <text x={0} y={14}>
          kPa
        </text>
        {marks(0, last.minutes, 6).map((v) => (
          <text key={v} x={x(v)} y={240} textAnchor="middle">
            {Number(v.toFixed(3))}
          </text>
        ))}
        <text x={600} y={256} textAnchor="end">
          minutes
        </text>
        <path
          className="boils-line"
          d={`M${x(first.minutes)} ${y(first.kPa)}L${x(last.minutes)} ${y(still)}`}
        />
        <path
          className="pressure-line"
          d={gauge.map((g, i) => `${i ? "L" : "M"}${x(g.minutes)} ${y(g.kPa)}`).join("")}
        />
        {gauge.map((g) => (
          <circle key={g.minutes} cx={x(g.minutes)} cy={y(g.kPa)} r={5} />
        ))}
      </svg>
      <figcaption className="quiet">
        Dots: the gauge as read. Dashed: where it would be without a leak, cooled and under today’s
        weather.
      </figcaption>
    </figure>
  );
};
