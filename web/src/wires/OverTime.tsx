/** What a device said over time, against what was expected of it. */
import { marks, scale } from "../kit/plot";
import type { Figure } from "../worksheets/Answer";

type Window = {
  name: string;
  from_s: number;
  to_s: number;
  low?: number;
  high?: number;
  verdict: string;
};
const [WIDE, HIGH, LEFT, FOOT] = [640, 280, 52, 30];

export const OverTime: Figure = ({ figure }) => {
  const samples = figure.samples as [number, number][];
  const windows = figure.windows as Window[];
  const bounds = windows.flatMap((w) => [w.low, w.high].filter((v) => v !== undefined));
  const values = [...samples.map((s) => s[1]), ...bounds];
  const times = [...samples.map((s) => s[0]), ...windows.flatMap((w) => [w.from_s, w.to_s])];
  const [low, high] = [Math.min(...values), Math.max(...values)];
  const room = (high - low || 1) * 0.08;
  const y = scale([low - room, high + room], [HIGH - FOOT, 10]);
  const x = scale([Math.min(...times), Math.max(...times, 1)], [LEFT, WIDE - 8]);
  const line = samples.map(([t, v], i) => `${i ? "L" : "M"}${x(t).toFixed(1)} ${y(v).toFixed(1)}`);
  return (
    <figure className="over-time">
      <svg viewBox={`0 0 ${WIDE} ${HIGH}`} role="img" aria-label="Readings over time">
        {marks(low - room, high + room, 5).map((v) => (
          <g key={v}>
            <path className="grid" d={`M${LEFT} ${y(v)}H${WIDE}`} />
            <text x={LEFT - 6} y={y(v) + 4} textAnchor="end">
              {v.toFixed(0)}
            </text>
          </g>
        ))}
        {windows.map((w) => {
          const [top, foot] = [y(w.high ?? high + room), y(w.low ?? low - room)];
          return (
            <rect
              key={w.name}
              className={w.verdict === "in" ? "window" : "window bad"}
              x={x(w.from_s)}
              y={top}
              width={x(w.to_s) - x(w.from_s)}
              height={Math.max(1, foot - top)}
            >
              <title>{w.name}</title>
            </rect>
          );
        })}
        <path className="pressure-line" d={line.join("")} />
        {marks(Math.min(...times), Math.max(...times, 1), 6).map((t) => (
          <text key={t} x={x(t)} y={HIGH - 8} textAnchor="middle">
            {t.toFixed(0)} s
          </text>
        ))}
      </svg>
      <figcaption className="quiet">Framed: where the readings are to be, and when.</figcaption>
    </figure>
  );
};
