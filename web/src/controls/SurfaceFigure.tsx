/** A surface in side view (a rudder from above) at true angle: required ranges as arc bands,
    what was measured as lines with their uncertainty. */
import type { Requirement, Sheet, Surface } from "../app/api";
import { MarkAt } from "../marks/VerdictMark";
import { positionWord, range, shown, WORD } from "../marks/words";

const R = 150;
const BAND = 168;
const HINGE = { x: 170, y: 0 };

/** +1 where the position is drawn upwards. */
function turn(position: string): number {
  if (position.startsWith("detent")) return -1;
  return position === "down_stop" || position === "left_stop" ? -1 : 1;
}

function at(angle: number, radius: number): [number, number] {
  const a = (angle * Math.PI) / 180;
  return [HINGE.x + radius * Math.cos(a), HINGE.y - radius * Math.sin(a)];
}

function arc(from: number, to: number, radius: number): string {
  const [x0, y0] = at(from, radius);
  const [x1, y1] = at(to, radius);
  return `M${x0} ${y0}A${radius} ${radius} 0 0 ${to > from ? 0 : 1} ${x1} ${y1}`;
}

type Shown = { q: Requirement; sign: number; lo: number; hi: number };

export function SurfaceFigure(p: {
  surface: Surface;
  sheet: Sheet;
  chosen: Requirement | undefined;
  choose: (q: Requirement) => void;
}) {
  const travels: Shown[] = p.sheet.requirements
    .filter((q) => q.surface === p.surface.slug && (q.kind === "travel" || q.kind === "neutral"))
    .map((q) => ({
      q,
      sign:
        q.kind === "neutral"
          ? p.surface.positive === "trailing_edge_down"
            ? -1
            : 1
          : turn(q.position),
      lo: q.lo ?? (q.hi ?? 0) - 3,
      hi: q.hi ?? (q.lo ?? 0) + 3,
    }));
  const reach = (down: boolean) =>
    Math.max(
      14,
      ...travels
        .filter((t) => t.sign < 0 === down)
        .map((t) => Math.max(Math.abs(t.hi), Math.abs(t.q.result.value ?? 0))),
    ) + 6;
  const above = Math.max(
    70,
    Math.sin((Math.min(reach(false), 90) * Math.PI) / 180) * (BAND + 30) + 14,
  );
  const below = Math.max(
    52,
    Math.sin((Math.min(reach(true), 90) * Math.PI) / 180) * (BAND + 30) + 14,
  );
  const upright = p.surface.positive === "trailing_edge_right";
  return (
    <figure className="surface">
      <svg
        viewBox={`0 ${-above} 520 ${above + below}`}
        role="img"
        aria-label={spoken(p.surface, travels)}
      >
        <FixedPart />
        <Moving angle={0} className="moving-neutral" />
        {active(travels, p.chosen) !== null && (
          <Moving angle={active(travels, p.chosen) ?? 0} className="moving" />
        )}
        <path className="chordline" d={`M${HINGE.x} 0H${HINGE.x + BAND + 14}`} />
        {travels.map((t) => (
          <Travel
            first={travels.find((o) => o.q.position === t.q.position) === t}
            key={t.q.id}
            t={t}
            chosen={t.q.id === p.chosen?.id}
            choose={() => p.choose(t.q)}
          />
        ))}
        <circle cx={HINGE.x} cy={HINGE.y} r="5" className="hinge" />
      </svg>
      <figcaption>
        <strong>{p.surface.name}</strong>{" "}
        <span className="quiet">
          {upright ? "from above, nose left" : "side view, nose left"}
          {p.surface.chord_mm !== null &&
            `; hinge to trailing edge ${p.surface.chord_mm.toFixed(0)} mm`}
        </span>
      </figcaption>
    </figure>
  );
}

function active(travels: Shown[], chosen: Requirement | undefined): number | null {
  const t = travels.find((x) => x.q.id === chosen?.id);
  return t?.q.result.value == null ? null : t.q.result.value * t.sign;
}

/** The fixed surface ahead of the hinge, cut off on the left. */
function FixedPart() {
  return (
    <path className="fixed" d="M8-24C70-26 120-22 154-15A20 20 0 0 0 154 15C120 22 70 26 8 24z" />
  );
}

/** The moving surface: nose round the hinge, straight to its trailing edge. */
function Moving({ angle, className }: { angle: number; className: string }) {
  return (
    <path
      className={className}
      transform={`rotate(${-angle} ${HINGE.x} ${HINGE.y})`}
      d={`M${HINGE.x}-14A14 14 0 0 0 ${HINGE.x} 14L${HINGE.x + R} 1.5V-1.5z`}
    />
  );
}

type TravelProps = { t: Shown; first: boolean; chosen: boolean; choose: () => void };

function Travel(p: TravelProps) {
  const { t, chosen, choose } = p;
  const { q, sign } = t;
  const { value, U, verdict } = q.result;
  const small = q.kind === "neutral";
  const radius = small ? R - 26 : BAND;
  const decided = q.result.conflict && q.result.conflict.decided !== q.id;
  const [tx, ty] = at((value ?? (t.lo + t.hi) / 2) * sign, BAND + 26);
  const label =
    q.kind === "travel" && p.first
      ? value === null
        ? range(q.lo, q.hi, "°")
        : `${shown(value, "°")} ${positionWord(q.position).replace(/detent \d+/, "")}`
      : "";
  return (
    <g
      className={`travel ${chosen ? "travel-chosen" : ""} ${decided ? "travel-open" : ""}`}
      onClick={choose}
    >
      <path
        className="band"
        d={arc(t.lo * sign, t.hi * sign, radius)}
        strokeWidth={small ? 7 : 12}
      />
      {value !== null && U !== null && (
        <g className={`vmark vmark-${verdict.replace(" ", "-")}`}>
          <path
            className="measured"
            d={`M${at(value * sign, 20).join(" ")}L${at(value * sign, radius).join(" ")}`}
          />
          <path className="spread" d={arc((value - U) * sign, (value + U) * sign, radius)} />
          {!small && (
            <MarkAt
              verdict={verdict}
              x={at(value * sign, BAND + 15)[0]}
              y={at(value * sign, BAND + 15)[1]}
              size={14}
            />
          )}
        </g>
      )}
      {label && (
        <text
          x={Math.max(tx + 6, 306)}
          y={ty + 8}
          className={`figure-number vmark-text vmark-${verdict.replace(" ", "-")} ${value === null ? "figure-asked" : ""}`}
        >
          {label}
        </text>
      )}
    </g>
  );
}

function spoken(surface: Surface, travels: Shown[]): string {
  const said = travels.map((t) => {
    const r = t.q.result;
    const measured =
      r.value === null ? "" : `measured ${shown(r.value, "°")} plus or minus ${shown(r.U, "°")}, `;
    return `${positionWord(t.q.position)}: required ${range(t.q.lo, t.q.hi, "°")}, ${measured}${WORD[r.verdict]}`;
  });
  return `${surface.name}. ${said.join(". ")}`;
}
