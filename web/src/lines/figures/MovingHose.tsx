/** A hose through travel: every shape that it takes, the one at the slider in full. */
import { type PointerEvent, useState } from "react";

import type { Figure } from "../../worksheets/Answer";

type Shape = { setting: string; pedal_deg: number; finding: string; path_mm: number[][] };
type Drawn = {
  shapes: Shape[];
  /** Which of them is the worst. */
  worst: number;
  obstacles: { at_mm: number[]; radius_mm: number }[];
  od_mm: number;
  grips: Grip[];
};
type Grip = { key: string; word: string; at_mm: number[] };
const KEYS: Record<string, [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, 1],
  ArrowDown: [0, -1],
};
const WORDS: Record<string, string> = {
  none: "right",
  hose_too_short: "too short",
  bend_too_tight: "bends too tightly",
  too_little_slack: "too little slack",
  chafe: "comes too near",
  no_curve: "nearly taut, or its ends point the wrong way",
};

export const MovingHose: Figure = ({ figure, place }) => {
  const { shapes, worst, obstacles, od_mm, grips } = figure as unknown as Drawn;
  const [at, setAt] = useState<number | null>(null);
  const chosen = shapes[Math.min(at ?? worst, shapes.length - 1)];
  const marks = place ? grips.map((g) => g.at_mm) : [];
  const every = [...shapes.flatMap((s) => s.path_mm), ...obstacles.map((o) => o.at_mm), ...marks];
  const xs = every.map((q) => q[0] ?? 0);
  const ys = every.map((q) => -(q[1] ?? 0));
  const edge = od_mm + 15;
  const [left, top] = [Math.min(...xs) - edge, Math.min(...ys) - edge];
  const width = Math.max(...xs) - left + edge;
  const height = Math.max(...ys) - top + edge + 34;
  const text = Math.max(10, width / 30);
  const path = (s: Shape) =>
    s.path_mm
      .map((q, i) => `${i ? "L" : "M"}${(q[0] ?? 0).toFixed(1)} ${(-(q[1] ?? 0)).toFixed(1)}`)
      .join("");
  const where = chosen
    ? `pedal ${chosen.pedal_deg.toFixed(1).replace("-", "−")}°${chosen.setting && `, ${chosen.setting}`}: ${WORDS[chosen.finding]}`
    : "";
  return (
    <figure className="moving-hose">
      <label className="slider">
        <span>Hose at {where}</span>
        <input
          type="range"
          className="form-range"
          min={0}
          max={Math.max(0, shapes.length - 1)}
          value={at ?? worst}
          onChange={(e) => setAt(Number(e.target.value))}
        />
      </label>
      <svg viewBox={`${left} ${top} ${width} ${height}`} role="img" aria-label={`Hose at ${where}`}>
        {shapes.map((s, i) => (
          <path key={i} className={s.finding === "none" ? "shape" : "shape bad"} d={path(s)} />
        ))}
        {obstacles.map((o, i) => (
          <circle
            key={i}
            className="beside"
            cx={o.at_mm[0]}
            cy={-(o.at_mm[1] ?? 0)}
            r={o.radius_mm}
          />
        ))}
        {chosen && (
          <path
            className={chosen.finding === "none" ? "tube" : "tube bad"}
            d={path(chosen)}
            strokeWidth={od_mm}
          />
        )}
        {place && grips.map((g) => <Handle key={g.key} grip={g} size={width / 60} place={place} />)}
        <path className="ruler" d={`M${left + 8} ${top + height - 14}v5h100v-5`} />
        <text x={left + 114} y={top + height - 9} fontSize={text}>
          100 mm
        </text>
      </svg>
      <figcaption className="quiet">
        To scale, in the plane of the pedal. Thin lines: every position looked at.
        {place && " Drag a round handle, or focus it and use the arrow keys (Shift: 10 mm)."}
      </figcaption>
    </figure>
  );
};

/** A point that is dragged, or moved by a millimetre with the arrow keys. */
function Handle(p: { grip: Grip; size: number; place: (key: string, text: string) => void }) {
  const { key, word, at_mm } = p.grip;
  const kept: [number, number] = [at_mm[0] ?? 0, at_mm[1] ?? 0];
  const [drag, setDrag] = useState<[number, number] | null>(null);
  // Where it was put, until the answer to that comes.
  const [put, setPut] = useState<{ of: string; at: [number, number] } | null>(null);
  const of = at_mm.join();
  const [x, y] = drag ?? (put?.of === of ? put.at : kept);
  const set = (at: [number, number]) => {
    setPut({ of, at });
    p.place(key, at.map((q) => `${q.toFixed(0)} mm`).join("; "));
  };
  const at = (e: PointerEvent<SVGCircleElement>): [number, number] => {
    const matrix = e.currentTarget.getScreenCTM()?.inverse();
    const q = new DOMPoint(e.clientX, e.clientY).matrixTransform(matrix);
    return [q.x, -q.y];
  };
  const said = `${word}: ${x.toFixed(0)}; ${y.toFixed(0)} mm`;
  return (
    <circle
      className="handle"
      cx={x}
      cy={-y}
      r={p.size}
      tabIndex={0}
      role="button"
      aria-label={said}
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId);
        setDrag(at(e));
      }}
      onPointerMove={(e) => drag && setDrag(at(e))}
      onPointerUp={(e) => {
        set(at(e));
        setDrag(null);
      }}
      onKeyDown={(e) => {
        const way = KEYS[e.key];
        if (!way) return;
        e.preventDefault();
        const step = e.shiftKey ? 10 : 1;
        set([x + way[0] * step, y + way[1] * step]);
      }}
    >
      <title>{said}</title>
    </circle>
  );
}
