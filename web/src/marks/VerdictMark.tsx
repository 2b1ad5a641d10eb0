import type { Verdict } from "../app/api";
import { WORD } from "./words";

const PATH: Record<Verdict, React.ReactNode> = {
  in: <circle cx="10" cy="10" r="7" className="vmark-fill" />,
  out: <path d="M3 3h9l5 5v9H3z" className="vmark-fill" />,
  "too close": (
    <>
      <path d="M10 1.5 18.5 10 10 18.5 1.5 10z" className="vmark-line" />
      <path d="M10 1.5v17L1.5 10z" className="vmark-fill" />
    </>
  ),
  "not measured": <circle cx="10" cy="10" r="7" className="vmark-line" strokeDasharray="3.4 2.6" />,
  stale: <path d="M6.2 4.1A7 7 0 1 0 13.8 4.1L10 8.6z" className="vmark-line" />,
  accepted: (
    <>
      <circle cx="10" cy="10" r="5" className="vmark-fill" />
      <path d="M5 1.5H1.5v17H5M15 1.5h3.5v17H15" className="vmark-line" />
    </>
  ),
};

const kind = (verdict: Verdict): string => `vmark vmark-${verdict.replace(" ", "-")}`;

/** The shape alone, inside another SVG, centred on x and y. */
export function MarkAt(p: { verdict: Verdict; x: number; y: number; size: number }) {
  const s = p.size / 20;
  return (
    <g
      className={kind(p.verdict)}
      transform={`translate(${p.x - p.size / 2} ${p.y - p.size / 2}) scale(${s})`}
    >
      {PATH[p.verdict]}
    </g>
  );
}

/** A verdict: its shape, and its word beside it or for the screen reader. */
export function VerdictMark(p: {
  verdict: Verdict;
  word?: boolean;
  big?: boolean;
  /** Another word for it, where the verdict's own would mislead. */
  said?: string;
}) {
  const size = p.big ? 28 : 16;
  return (
    <span className={`verdict ${kind(p.verdict)} ${p.big ? "verdict-big" : ""}`}>
      <svg viewBox="0 0 20 20" width={size} height={size} aria-hidden="true">
        {PATH[p.verdict]}
      </svg>
      <span className={p.word || p.big ? "verdict-word" : "visually-hidden"}>
        {p.said ?? WORD[p.verdict]}
      </span>
    </span>
  );
}
