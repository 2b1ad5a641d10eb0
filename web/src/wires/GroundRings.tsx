/** Each ring of grounds as it is walked: what it joins, by which conductor, and how it is broken. */
import type { Verdict } from "../app/api";
import { VerdictMark } from "../marks/VerdictMark";
import type { Figure } from "../worksheets/Answer";

type Ring = {
  nodes: string[];
  edges: { id: string; kind: string }[];
  said: string;
  verdict: string;
};
const [WIDE, HIGH, OUT] = [420, 270, 84];
const BESIDE = 18;

export const GroundRings: Figure = ({ figure }) => (
  <div className="ground-rings">
    {(figure.rings as Ring[]).map((r) => (
      <figure key={r.edges.map((e) => e.id).join(" ")}>
        <Drawn ring={r} />
        <figcaption>
          <VerdictMark verdict={r.verdict as Verdict} /> {r.said}
        </figcaption>
      </figure>
    ))}
  </div>
);

function Drawn({ ring }: { ring: Ring }) {
  const n = ring.nodes.length;
  const at = (k: number) => {
    const turn = (2 * Math.PI * k) / n - Math.PI / 2;
    return [WIDE / 2 + OUT * 1.5 * Math.cos(turn), HIGH / 2 + OUT * Math.sin(turn)] as const;
  };
  return (
    <svg
      viewBox={`0 0 ${WIDE} ${HIGH}`}
      role="img"
      aria-label={`A ring of ${ring.edges.map((e) => e.id).join(", ")}`}
    >
      {ring.edges.map((e, k) => {
        const [x, y] = at(k);
        const [u, v] = at((k + 1) % n);
        // Two conductors between two places bow apart.
        const bow = n === 2 ? (k ? 40 : -40) : 0;
        const [mx, my] = [(x + u) / 2, (y + v) / 2 + bow];
        // Its name a little outside of the ring: no place stands on it.
        const away = Math.hypot(mx - WIDE / 2, my - HIGH / 2) || 1;
        const out = (part: number) => (part / away) * BESIDE;
        return (
          <g key={e.id}>
            <path className={`ground ${e.kind}`} d={`M${x} ${y}Q${mx} ${my + bow} ${u} ${v}`} />
            <text
              className="conductor"
              x={mx + out(mx - WIDE / 2)}
              y={my + out(my - HIGH / 2) + 4}
              textAnchor="middle"
            >
              {e.id}
            </text>
          </g>
        );
      })}
      {ring.nodes.map((name, k) => {
        const [x, y] = at(k);
        const half = name.length * 3.9 + 8;
        return (
          <g key={name}>
            <rect x={x - half} y={y - 13} width={2 * half} height={26} rx={4} />
            <text x={x} y={y + 5} textAnchor="middle">
              {name}
            </text>
          </g>
        );
      })}
    </svg>
  );
}
