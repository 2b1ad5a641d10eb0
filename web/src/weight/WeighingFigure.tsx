/** The aircraft on its scales from the side: wheels at their arms to scale, what each carries, and
 * where the balance lies. */
import { scale } from "../kit/plot";
import type { WeighingFigure as Drawn } from "./figures";

const [WIDE, HIGH, FLOOR, MARGIN] = [640, 250, 190, 50];

export function WeighingFigure({ figure }: { figure: Drawn }) {
  const at = figure.wheels.map((w) => w.x_mm);
  const long = Math.max(...at) - Math.min(...at);
  const tailed = figure.wheels.some((w) => w.kind === "tail");
  // Behind a nose wheel's mains the fuselage goes on; a tail wheel stands near its end.
  const [nose, tail] = [
    Math.min(...at) - long * (tailed ? 0.3 : 0.35),
    Math.max(...at) + long * (tailed ? 0.05 : 1.4),
  ];
  const [low, high] = [Math.min(0, nose), tail];
  const x = scale([low, high], [MARGIN, WIDE - MARGIN]);
  const r = figure.result;
  // Left and right wheel stand nearly at one arm: seen from the side they are one behind another.
  const seen = figure.wheels.map((w, i) => ({ ...w, back: w.kind === "right" ? 14 : 0, i }));
  return (
    <figure className="weighing-figure">
      <svg
        viewBox={`0 0 ${WIDE} ${HIGH}`}
        role="img"
        aria-label={`On its scales: ${figure.wheels
          .map((w) => `${w.wheel} ${w.kg === null ? "not read" : `${w.kg.toFixed(1)} kg`}`)
          .join(", ")}`}
      >
        <path className="fuselage" d={outline(x(nose), x(tail))} />
        <path className="floor" d={`M10 ${FLOOR + 18}H${WIDE - 10}`} />
        <path className="plumb" d={`M${x(0)} 60V${FLOOR + 18}`} />
        <text x={x(0)} y={52} textAnchor="middle">
          datum
        </text>
        {seen.map((w) => (
          <g key={w.wheel} className={w.kg === null ? "wheel unread" : "wheel"}>
            <path d={`M${x(w.x_mm) + w.back} ${FLOOR - 60}V${FLOOR - 8}`} />
            <circle cx={x(w.x_mm) + w.back} cy={FLOOR - 8} r={11} />
            <rect x={x(w.x_mm) + w.back - 22} y={FLOOR + 4} width={44} height={13} />
          </g>
        ))}
        {grouped(seen).map((g) => (
          <g key={g.x_mm}>
            <text x={x(g.x_mm)} y={FLOOR + 34} textAnchor="middle">
              {g.words}
            </text>
            <text x={x(g.x_mm)} y={FLOOR + 50} textAnchor="middle" className="quiet-text">
              {g.x_mm.toFixed(0)} mm
            </text>
          </g>
        ))}
        {r && (
          <g className="balance">
            <path d={`M${x(r.x_mm)} ${FLOOR + 18}V98`} />
            <circle cx={x(r.x_mm)} cy={98} r={9} />
            <path d={`M${x(r.x_mm)} 89a9 9 0 0 1 9 9h-9zM${x(r.x_mm)} 107a9 9 0 0 1 -9 -9h9z`} />
            <text x={x(r.x_mm)} y={78} textAnchor="middle" className="strong">
              {r.x_mm.toFixed(0)} ± {r.U_mm.toFixed(1)} mm
            </text>
          </g>
        )}
      </svg>
      <figcaption className="quiet">
        Arms to scale, aft of the datum; what each scale shows with its chocks.
      </figcaption>
    </figure>
  );
}

type Seen = Drawn["wheels"][number];

/** Wheels at nearly one arm share their words. */
function grouped(wheels: Seen[]): { x_mm: number; words: string }[] {
  const found: { x_mm: number; all: Seen[] }[] = [];
  const order = [...wheels].sort((a, b) => a.x_mm - b.x_mm || a.wheel.localeCompare(b.wheel));
  for (const w of order) {
    const last = found.at(-1);
    if (last && w.x_mm - last.x_mm < 150) last.all.push(w);
    else found.push({ x_mm: w.x_mm, all: [w] });
  }
  return found.map((g) => ({
    x_mm: g.x_mm,
    words: g.all
      .sort((a, b) => a.wheel.localeCompare(b.wheel))
      .map((w) => `${w.wheel} ${w.kg === null ? "not read" : `${w.kg.toFixed(1)} kg`}`)
      .join(", "),
  }));
}

/** A plain body between nose and tail: only its place is meant, not its shape. */
function outline(a: number, b: number): string {
  const long = b - a;
  const p = (t: number, y: number) => `${(a + long * t).toFixed(1)} ${y}`;
  return `M${p(0, 112)}C${p(0.1, 88)} ${p(0.25, 84)} ${p(0.42, 84)}C${p(0.6, 84)} ${p(0.8, 100)} ${p(1, 104)}L${p(1, 112)}C${p(0.8, 126)} ${p(0.6, 134)} ${p(0.4, 134)}C${p(0.2, 134)} ${p(0.06, 128)} ${p(0, 112)}Z`;
}
