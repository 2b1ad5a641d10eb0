/** Arrows and labels on top of a picture, in shares of its width and height. */
import type { Photo } from "../app/api";

type Mark = Photo["overlay"][number];

export function Overlay(p: { marks: Mark[]; width: number; height: number }) {
  if (p.marks.length === 0) return null;
  const size = Math.max(p.width, p.height) / 34;
  return (
    <svg className="overlay" viewBox={`0 0 ${p.width} ${p.height}`} aria-hidden="true">
      {p.marks.map((m, i) => {
        const [x0, y0] = [m.x0 * p.width, m.y0 * p.height];
        const [x1, y1] = [m.x1 * p.width, m.y1 * p.height];
        if (m.kind === "label")
          return (
            <text key={i} x={x0} y={y0 + size} fontSize={size * 1.3} strokeWidth={size / 4}>
              {m.text}
            </text>
          );
        return <path key={i} d={arrow(x0, y0, x1, y1, size)} strokeWidth={size / 3.2} />;
      })}
    </svg>
  );
}

function arrow(x0: number, y0: number, x1: number, y1: number, size: number): string {
  const along = Math.atan2(y1 - y0, x1 - x0);
  const barb = (turn: number) =>
    `M${x1} ${y1}L${x1 - size * Math.cos(along + turn)} ${y1 - size * Math.sin(along + turn)}`;
  return `M${x0} ${y0}L${x1} ${y1}${barb(0.45)}${barb(-0.45)}`;
}
