/** The bus phase by phase: what is on, one load on top of the other, against what may be used. */
import { marks, scale } from "../kit/plot";
import type { Figure } from "../worksheets/Answer";

type Phase = {
  name: string;
  parts: { name: string; A: number }[];
  allowed_A: number;
  peak_A: number;
};
const [WIDE, HIGH, LEFT, FOOT] = [640, 300, 44, 34];
const SHADES = 6;

export const LoadChart: Figure = ({ figure }) => {
  const phases = figure.phases as Phase[];
  const sum = (p: Phase) => p.parts.reduce((all, x) => all + x.A, 0);
  const most = Math.max(1, ...phases.flatMap((p) => [sum(p), p.allowed_A, p.peak_A])) * 1.08;
  const y = scale([0, most], [HIGH - FOOT, 10]);
  const step = (WIDE - LEFT) / Math.max(1, phases.length);
  const names = [...new Set(phases.flatMap((p) => p.parts.map((x) => x.name)))];
  return (
    <figure className="load-chart">
      <svg viewBox={`0 0 ${WIDE} ${HIGH}`} role="img" aria-label="Current by phase">
        {marks(0, most, 5).map((v) => (
          <g key={v}>
            <path className="grid" d={`M${LEFT} ${y(v)}H${WIDE}`} />
            <text x={LEFT - 6} y={y(v) + 4} textAnchor="end">
              {v.toFixed(0)}
            </text>
          </g>
        ))}
        <text x={0} y={14}>
          A
        </text>
        {phases.map((p, i) => {
          const [x, wide] = [LEFT + step * i + step * 0.16, step * 0.68];
          let below = 0;
          return (
            <g key={p.name}>
              {p.parts.map((part) => {
                const [low, high] = [below, below + part.A];
                below = high;
                return (
                  <rect
                    key={part.name}
                    className={`load-${names.indexOf(part.name) % SHADES}`}
                    x={x}
                    y={y(high)}
                    width={wide}
                    height={Math.max(0, y(low) - y(high))}
                  >
                    <title>{`${p.name}, ${part.name}: ${part.A.toFixed(1)} A`}</title>
                  </rect>
                );
              })}
              <path
                className={p.allowed_A && sum(p) > p.allowed_A ? "allowed bad" : "allowed"}
                d={`M${x - step * 0.1} ${y(p.allowed_A)}h${step * 0.88}`}
              />
              <path className="peak" d={`M${x + wide / 2} ${y(p.peak_A)}m-6 0h12`} />
              <text x={x + wide / 2} y={HIGH - FOOT + 18} textAnchor="middle">
                {p.name}
              </text>
            </g>
          );
        })}
      </svg>
      <figcaption className="quiet">
        Thick line: what may be used in this phase. Short line: everything that is on at some time
        in it, at once.
        <span className="load-names">
          {names.map((n, i) => (
            <span key={n}>
              <i className={`load-${i % SHADES}`} aria-hidden="true" /> {n}
            </span>
          ))}
        </span>
      </figcaption>
    </figure>
  );
};
