/** A tube from above and from the side, to one scale, as thick as it is; lengths in mm. */
type Point = number[];
type Range = [number, number];
export type Extent = [Range, Range, Range];

/** The least and greatest of each coordinate. */
export function extent(points: Point[]): Extent {
  const of = (i: number): Range => {
    const values = points.map((p) => p[i] ?? 0);
    return values.length ? [Math.min(...values), Math.max(...values)] : [0, 0];
  };
  return [of(0), of(1), of(2)];
}

const RULER = 100;

export function TwoViews(p: {
  points: Point[];
  within: Extent;
  od: number;
  words: [string, string];
}) {
  return (
    <div className="two-views">
      <View {...p} up={1} word={p.words[0]} />
      <View {...p} up={2} word={p.words[1]} />
    </div>
  );
}

function View(p: { points: Point[]; within: Extent; od: number; up: 1 | 2; word: string }) {
  const [x0, x1] = p.within[0];
  const [v0, v1] = p.within[p.up];
  const [top, bottom] = [-v1, -v0];
  const edge = p.od * 2 + 10;
  const width = Math.max(x1 - x0, RULER) + 2 * edge;
  const height = bottom - top + 2 * edge + 24 + width / 26;
  const path = p.points
    .map((q, i) => `${i ? "L" : "M"}${(q[0] ?? 0).toFixed(1)} ${(-(q[p.up] ?? 0)).toFixed(1)}`)
    .join("");
  const [first] = p.points;
  const foot = bottom + edge + 16;
  const text = Math.max(11, width / 26);
  return (
    <figure>
      <svg viewBox={`${x0 - edge} ${top - edge} ${width} ${height}`} role="img" aria-label={p.word}>
        <path className="tube" d={path} strokeWidth={p.od} />
        {first && <circle className="tube-start" cx={first[0]} cy={-(first[p.up] ?? 0)} r={p.od} />}
        <path className="ruler" d={`M${x0} ${foot - 5}v5h${RULER}v-5`} />
        <text x={x0 + RULER + 6} y={foot} fontSize={text}>
          {RULER} mm
        </text>
      </svg>
      <figcaption className="quiet">{p.word}. The ring is the start.</figcaption>
    </figure>
  );
}
