/** Surface angle, gear and transmission over the input, with the required bands and a cursor. */
import type { Solved } from "../../app/api";
import { plain, shown } from "../../marks/words";
import { type At, slice, value, weights } from "./motion";
import { line, marks, scale, valueAt } from "../../kit/plot";

const W = 300;
const H = 150;
const L = 34;
const B = 24;
const DASH = ["", "7 3", "2 3", "9 3 2 3"];

type Line = { name: string; pairs: [number, number | null][] };
type Band = { lo: number; hi: number };

function Chart(p: {
  title: string;
  unit: string;
  input: string;
  lines: Line[];
  bands?: Band[];
  at: number;
  floor?: number;
}) {
  const xs = p.lines.flatMap((l) => l.pairs.map(([x]) => x));
  const ys = [
    ...p.lines.flatMap((l) => l.pairs.map(([, y]) => y)),
    ...(p.bands ?? []).flatMap((b) => [b.lo, b.hi]),
    ...(p.floor === undefined ? [] : [p.floor]),
  ].filter((y): y is number => y !== null);
  if (!xs.length || !ys.length) return null;
  const [x0, x1] = [Math.min(...xs), Math.max(...xs)];
  const [low, high] = [Math.min(...ys), Math.max(...ys)];
  const room = Math.max((high - low) * 0.08, 0.05);
  const [y0, y1] = [low - room, high + room];
  const px = scale([x0, x1], [L, W - 6]);
  const py = scale([y0, y1], [H - B, 8]);
  return (
    <figure className="curve">
      <figcaption>
        {p.title}
        {p.unit && <span className="quiet">, {p.unit}</span>}
      </figcaption>
      <svg viewBox={`0 0 ${W} ${H}`} role="img" aria-label={`${p.title} over the input`}>
        {(p.bands ?? []).map((b, i) => (
          <rect
            key={i}
            className="curve-band"
            x={L}
            width={W - L - 6}
            y={py(b.hi)}
            height={Math.max(py(b.lo) - py(b.hi), 1)}
          />
        ))}
        {marks(y0, y1, 4).map((y) => (
          <g key={y}>
            <path className="curve-grid" d={`M${L} ${py(y)}H${W - 6}`} />
            <text x={L - 4} y={py(y) + 4} textAnchor="end">
              {String(Number(y.toFixed(2))).replace("-", "−")}
            </text>
          </g>
        ))}
        {marks(x0, x1, 6).map((x) => (
          <text key={x} x={px(x)} y={H - 8} textAnchor="middle">
            {String(Number(x.toFixed(2))).replace("-", "−")}
          </text>
        ))}
        {p.floor !== undefined && (
          <path className="curve-floor" d={`M${L} ${py(p.floor)}H${W - 6}`} />
        )}
        {p.lines.map((l, i) => (
          <path
            key={l.name}
            className="curve-line"
            d={line(l.pairs, px, py)}
            strokeDasharray={DASH[i % 4]}
          />
        ))}
        <text x={W - 6} y={H - B - 5} textAnchor="end">
          {p.input}
        </text>
        <path className="curve-cursor" d={`M${px(p.at)} 4V${H - B}`} />
      </svg>
      <ul className="curve-key">
        {p.lines.map((l, i) => {
          const here = valueAt(l.pairs, p.at);
          return (
            <li key={l.name}>
              <svg viewBox="0 0 22 6" width="22" height="6" aria-hidden="true">
                <path className="curve-line" d="M0 3H22" strokeDasharray={DASH[i % 4]} />
              </svg>
              {l.name}{" "}
              <span className="num">
                {shown(here, p.unit === "" ? "" : p.unit, p.unit ? 1 : 2)}
              </span>
            </li>
          );
        })}
      </ul>
    </figure>
  );
}

export function Curves({ solved, at, axis }: { solved: Solved; at: At; axis: string }) {
  const unit = solved.axes.find((a) => a.name === axis)?.unit ?? "°";
  const input = `${plain(axis)}, ${unit}`;
  const outs = solved.outputs.filter((o) => o.surface);
  const listed = outs.length ? outs : solved.outputs;
  const bands = solved.travel
    .filter((t) => t.lo !== null && t.hi !== null && t.position !== "neutral" && t.value !== null)
    .map((t) => {
      // The travel's sign in the output's own: as the linkage gives it.
      const out = solved.outputs.find((o) => o.name === t.output);
      const w = weights(solved, { ...at, [axis]: t.input ?? 0 });
      const own = out && t.input !== null ? value(out.values, w) : t.value;
      const sign = (own ?? 1) < 0 ? -1 : 1;
      const [a, b] = [(t.lo ?? 0) * sign, (t.hi ?? 0) * sign];
      return { lo: Math.min(a, b), hi: Math.max(a, b) };
    });
  const cursor = at[axis] ?? 0;
  return (
    <div className="curves">
      <Chart
        title="Surface angle"
        unit={listed[0]?.unit ?? "°"}
        input={input}
        bands={bands}
        at={cursor}
        lines={listed.map((o) => ({
          name: o.surface_name || plain(o.name),
          pairs: slice(solved, o.values, axis, at),
        }))}
      />
      <Chart
        title={`Gear: surface per ${plain(axis)}`}
        unit=""
        input={input}
        at={cursor}
        lines={listed.map((o) => ({
          name: o.surface_name || plain(o.name),
          pairs: slice(solved, o.gear, axis, at),
        }))}
      />
      <Chart
        title="Transmission at the driven end"
        unit="°"
        input={input}
        floor={solved.least_transmission_deg}
        at={cursor}
        lines={solved.rods.slice(0, 4).map((r) => ({
          name: plain(r.id),
          pairs: slice(solved, r.transmission_deg, axis, at),
        }))}
      />
    </div>
  );
}
