/** A hole in the flat skin: its edges, both layouts, the washer over it. */
import type { Figure } from "../../worksheets/Answer";

type Drawn = {
  edges: { point_mm: number[]; direction: number[] }[];
  hole_mm: number[];
  second_mm: number[] | null;
  drilled_mm: number;
  washer_mm: number | null;
};

export const TankHole: Figure = ({ figure }) => {
  const d = figure as unknown as Drawn;
  const [x = 0, y = 0] = d.hole_mm;
  const points = [
    ...d.edges.map((e) => e.point_mm),
    d.hole_mm,
    ...(d.second_mm ? [d.second_mm] : []),
  ];
  const edge = Math.max(20, (d.washer_mm ?? d.drilled_mm) * 0.8);
  const xs = points.map((q) => q[0] ?? 0);
  const ys = points.map((q) => -(q[1] ?? 0));
  const [left, top] = [Math.min(...xs) - edge, Math.min(...ys) - edge];
  const [width, height] = [Math.max(...xs) - left + edge, Math.max(...ys) - top + edge];
  const far = 2 * (width + height);
  return (
    <figure>
      <svg viewBox={`${left} ${top} ${width} ${height}`} role="img" aria-label="Hole in the skin">
        {d.edges.map((e, i) => {
          const [a = 0, b = 0] = e.point_mm;
          const [u = 0, v = 0] = e.direction;
          const size = Math.hypot(u, v) || 1;
          const [s, t] = [(u / size) * far, (v / size) * far];
          return (
            <path key={i} className="skin-edge" d={`M${a - s} ${-(b - t)}L${a + s} ${-(b + t)}`} />
          );
        })}
        {d.washer_mm !== null && <circle className="washer" cx={x} cy={-y} r={d.washer_mm / 2} />}
        <circle className="hole" cx={x} cy={-y} r={d.drilled_mm / 2} />
        <path className="ruler" d={`M${x - 5} ${-y}h10M${x} ${-y - 5}v10`} />
        {d.second_mm && (
          <path
            className="second"
            d={`M${(d.second_mm[0] ?? 0) - 4} ${-(d.second_mm[1] ?? 0) - 4}l8 8m0-8l-8 8`}
          />
        )}
      </svg>
      <figcaption className="quiet">
        Flat skin, to scale. Upright cross: the hole. Slanted cross: the second layout. Outer
        circle: the washer.
      </figcaption>
    </figure>
  );
};
