/** Tension over temperature: what to set, the maker's point, today, what was measured, slack. */
import type { Cables, TensionToday } from "../app/api";
import { shown } from "../marks/words";
import { inUnit } from "./units";
import { line, marks, scale } from "../kit/plot";

const W = 760;
const H = 330;
const L = 52;
const R = 14;
const B = 34;
const T = 14;

type Point = { x: number; y: number; u: number; side: string; current: boolean };

export function TensionFigure({ today, cables }: { today: TensionToday; cables: Cables }) {
  const of = (n: number) => inUnit(n, today.unit);
  const lead = today.curves[0];
  if (!lead) return null;
  const points: Point[] = cables.readings
    .filter((r) => r.method !== "straight" && r.temperature_C !== null)
    .map((r) => ({
      x: r.temperature_C ?? 0,
      y: of(r.value),
      u: of(2 * r.u),
      side: r.side,
      current: r.current,
    }));
  const values = lead.points.map(([, n]) => of(n ?? 0));
  const high = Math.max(
    ...values.map((v) => v + of(today.plus_N)),
    ...points.map((p) => p.y + p.u),
  );
  const [x0, x1] = [lead.points[0]?.[0] ?? -30, lead.points.at(-1)?.[0] ?? 50];
  const px = scale([x0, x1], [L, W - R]);
  const py = scale([0, high * 1.05], [H - B, T]);
  const through = (pairs: readonly (readonly number[])[], by: (n: number) => number) =>
    line(
      pairs.map(([x, n]) => [x ?? 0, by(n ?? 0)]),
      px,
      py,
    );
  const upper = through(lead.points, (n) => of(n + today.plus_N));
  const lower = through([...lead.points].reverse(), (n) => of(Math.max(0, n - today.minus_N)));
  const now = today.temperature_C;
  const set = today.sides[0];
  const slack = lead.slack_C;
  return (
    <figure className="tension-figure">
      <svg
        viewBox={`0 0 ${W} ${H}`}
        role="img"
        aria-label={`Tension over temperature: set ${shown(of(set?.set_N ?? 0), ` ${today.unit}`)} at ${shown(now, " °C")}`}
      >
        <path className="curve-band" d={`${upper}L${lower.slice(1)}Z`} />
        {marks(0, high * 1.05, 6).map((y) => (
          <g key={y}>
            <path className="curve-grid" d={`M${L} ${py(y)}H${W - R}`} />
            <text x={L - 8} y={py(y) + 5} textAnchor="end">
              {y}
            </text>
          </g>
        ))}
        {marks(x0, x1, 8).map((x) => (
          <text key={x} x={px(x)} y={H - 12} textAnchor="middle">
            {shown(x, "", 0)}
          </text>
        ))}
        <text x={L + 6} y={T + 12} className="axis-name">
          tension, {today.unit}
        </text>
        <text x={W - R} y={H - B - 6} textAnchor="end" className="axis-name">
          temperature, °C
        </text>
        {slack !== null && slack > x0 && slack < x1 && (
          <g className="slack">
            <path d={`M${px(slack)} ${py(0)}V${py(0) - 46}`} />
            <text x={px(slack) - 6} y={py(0) - 34} textAnchor="end">
              slack below {shown(slack, " °C")}
            </text>
          </g>
        )}
        <path className="tension-line" d={through(lead.points, of)} />
        {today.curves[1] && (
          <path className="tension-line tension-line-b" d={through(today.curves[1].points, of)} />
        )}
        <g className="maker">
          <path
            d={`M${px(today.target_C) - 7} ${py(of(today.target_N))}h14M${px(today.target_C)} ${py(of(today.target_N)) - 7}v14`}
          />
          <text x={px(today.target_C) + 10} y={py(of(today.target_N)) + 18}>
            maker: {shown(of(today.target_N), ` ${today.unit}`)} at{" "}
            {shown(today.target_C, " °C", 0)}
          </text>
        </g>
        <g className="today-line">
          <path d={`M${px(now)} ${T}V${H - B}`} />
          <text
            x={px(now) + (now > 25 ? -8 : 8)}
            y={T + 22}
            textAnchor={now > 25 ? "end" : "start"}
            className="today-word"
          >
            today {shown(now, " °C")}
          </text>
        </g>
        {points.map((p, i) => (
          <g key={i} className={p.current ? "taken" : "taken taken-old"}>
            <path
              d={`M${px(p.x) + shift(p)} ${py(p.y - p.u)}V${py(p.y + p.u)}m-4 0h8M${px(p.x) + shift(p) - 4} ${py(p.y - p.u)}h8`}
            />
            <circle cx={px(p.x) + shift(p)} cy={py(p.y)} r="4.5" />
            {p.current && (
              <text
                x={px(p.x) + shift(p) + (p.side === "A" ? 10 : -10)}
                y={py(p.y) + 5}
                textAnchor={p.side === "A" ? "start" : "end"}
              >
                {name(cables, p.side)}
              </text>
            )}
          </g>
        ))}
      </svg>
      <figcaption className="quiet">
        Line: what to set; band: what the maker allows. Good for an aircraft that stood at one
        temperature, and for pre-stretched cable.
      </figcaption>
    </figure>
  );
}

const shift = (p: Point): number => (p.side === "A" ? 6 : -6);

const name = (cables: Cables, side: string): string =>
  (cables.sides.find((s) => s.side === side)?.name ?? side).toLowerCase().replace(" cable", "");
