/** Corners of a route put on the airframe by pointing: from the left, from below, from the front. */
import { type PointerEvent, useRef, useState } from "react";
import { useOutletContext } from "react-router";
import Button from "react-bootstrap/Button";

import type { FrameContext } from "../app/Frame";
import { limitsOf, type Limits } from "../aircraft/AirframeFigure";

type Corner = [number, number, number];
type Axis = 0 | 1 | 2;
const WORDS = ["station", "butt line", "water line"] as const;
// Across and up of each view; the sign says which way it grows on the screen.
const VIEWS: { word: string; across: Axis; up: Axis; sign: 1 | -1 }[] = [
  { word: "From the left side, nose left", across: 0, up: 2, sign: -1 },
  { word: "Plan, nose left: left wing up", across: 0, up: 1, sign: 1 },
  { word: "From the front: right wing left", across: 1, up: 2, sign: -1 },
];
const PAD = 80;

export function RouteDrawing(p: { text: string; set: (text: string) => void }) {
  const { aircraft } = useOutletContext<FrameContext>();
  const per = aircraft.length_unit === "in" ? 25.4 : 1;
  const corners = read(p.text, per);
  const [held, setHeld] = useState<number | null>(null);
  if (!corners) return <p className="quiet">What stands above is no list of corners yet.</p>;
  const write = (rows: Corner[]) =>
    p.set(rows.map((c) => c.map((x) => String(Number((x / per).toFixed(2)))).join(" ")).join("\n"));
  const boxes = aircraft.bays.map(limitsOf);
  // Wings lie one behind the other in the side view: their names would too.
  const names = aircraft.bays.map((b) => (b.part === "fuselage" ? b.name : ""));
  /** A new corner, or the held one moved: what a view does not show stays as it was. */
  const point = (across: Axis, a: number, up: Axis, u: number) => {
    const from =
      held === null ? (corners.at(-1) ?? middle(boxes, across, a, up, u)) : corners[held];
    const to = [...(from ?? [0, 0, 0])] as Corner;
    to[across] = Math.round(a);
    to[up] = Math.round(u);
    write(held === null ? [...corners, to] : corners.map((c, i) => (i === held ? to : c)));
  };
  return (
    <fieldset className="form-name route-drawing">
      <legend>
        {held === null
          ? "Point where the next corner is; then hold it and set its height in another view"
          : `Corner ${held + 1} is held: point where it goes in any view`}
      </legend>
      <div className="buttons">
        {corners.map((c, i) => (
          <Button
            key={i}
            variant={i === held ? "primary" : "outline-primary"}
            aria-pressed={i === held}
            aria-label={`Hold corner ${i + 1}: ${c.map((x, k) => `${WORDS[k]} ${x.toFixed(0)} mm`).join(", ")}`}
            onClick={() => setHeld(i === held ? null : i)}
          >
            {i + 1}
          </Button>
        ))}
        {held !== null && (
          <Button
            variant="outline-primary"
            onClick={() => {
              write(corners.filter((_, i) => i !== held));
              setHeld(null);
            }}
          >
            Take corner {held + 1} out
          </Button>
        )}
      </div>
      <div className="two-views">
        {VIEWS.map((v) => (
          <Pad
            key={v.word}
            {...v}
            boxes={boxes}
            names={names}
            corners={corners}
            held={held}
            point={point}
          />
        ))}
      </div>
    </fieldset>
  );
}

function Pad(p: {
  word: string;
  across: Axis;
  up: Axis;
  sign: 1 | -1;
  boxes: Limits[];
  names: string[];
  corners: Corner[];
  held: number | null;
  point: (across: Axis, a: number, up: Axis, u: number) => void;
}) {
  const svg = useRef<SVGSVGElement>(null);
  const spans = p.boxes.map((b) => [span(b, p.across), span(b, p.up)] as const);
  const every = [
    ...spans.flatMap(([a, u]) => [
      [a[0], u[0]],
      [a[1], u[1]],
    ]),
    ...p.corners.map((c) => [c[p.across], c[p.up]]),
  ];
  const as = every.map((q) => q[0] ?? 0);
  const us = every.map((q) => (q[1] ?? 0) * p.sign);
  const [left, top] = [Math.min(...as) - PAD, Math.min(...us) - PAD];
  const [width, height] = [Math.max(...as) - left + PAD, Math.max(...us) - top + PAD];
  const press = (e: PointerEvent) => {
    const matrix = svg.current?.getScreenCTM();
    if (!matrix) return;
    const at = new DOMPoint(e.clientX, e.clientY).matrixTransform(matrix.inverse());
    p.point(p.across, at.x, p.up, at.y * p.sign);
  };
  const unit = Math.max(width / 700, height / 320);
  return (
    <figure>
      <svg
        ref={svg}
        viewBox={`${left} ${top} ${width} ${height}`}
        role="img"
        aria-label={p.word}
        onPointerDown={press}
      >
        {spans.map(([a, u], i) => (
          <rect
            key={i}
            className="panel-edge"
            x={a[0]}
            y={Math.min(u[0] * p.sign, u[1] * p.sign)}
            width={a[1] - a[0]}
            height={u[1] - u[0]}
          />
        ))}
        {p.up === 2 &&
          p.across === 0 &&
          spans.map(([a, u], i) =>
            u[1] - u[0] > 20 * unit && a[1] - a[0] > 60 * unit ? (
              <text key={i} x={a[0] + 5 * unit} y={u[0] * p.sign - 5 * unit} fontSize={9 * unit}>
                {p.names[i]}
              </text>
            ) : null,
          )}
        <path
          className="tube"
          strokeWidth={2 * unit}
          d={p.corners.map((c, i) => `${i ? "L" : "M"}${c[p.across]} ${c[p.up] * p.sign}`).join("")}
        />
        {p.corners.map((c, i) => (
          <g key={i}>
            <circle
              className={i === p.held ? "corner held" : "corner"}
              cx={c[p.across]}
              cy={c[p.up] * p.sign}
              r={6 * unit}
            />
            <text x={c[p.across] + 7 * unit} y={c[p.up] * p.sign - 6 * unit} fontSize={14 * unit}>
              {i + 1}
            </text>
          </g>
        ))}
      </svg>
      <figcaption className="quiet">{p.word}</figcaption>
    </figure>
  );
}

const span = (b: Limits, axis: Axis): [number, number] =>
  axis === 0 ? [b.x0, b.x1] : axis === 1 ? [b.y0, b.y1] : [b.z0, b.z1];

/** Where the first corner is in the direction that its view does not show: in the middle of the
 * bay that was pointed at. */
function middle(boxes: Limits[], across: Axis, a: number, up: Axis, u: number): Corner {
  const inside = (b: Limits, axis: Axis, v: number) =>
    v >= span(b, axis)[0] && v <= span(b, axis)[1];
  const bay = boxes.find((b) => inside(b, across, a) && inside(b, up, u)) ?? boxes[0];
  const of = (axis: Axis) => (bay ? Math.round((span(bay, axis)[0] + span(bay, axis)[1]) / 2) : 0);
  return [of(0), of(1), of(2)];
}

/** The corners as typed, mm; null where a line is none. */
function read(text: string, per: number): Corner[] | null {
  const rows = text.split("\n").filter((line) => line.trim());
  const found: Corner[] = [];
  for (const row of rows) {
    const values = row
      .trim()
      .split(/[\s;]+/)
      .map((v) => Number(v.replace(",", ".")) * per);
    if (values.length !== 3 || !values.every(Number.isFinite)) return null;
    found.push(values as Corner);
  }
  return found;
}
