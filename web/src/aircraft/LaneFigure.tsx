/** The lane: the airframe in side view cut at its bays, wings as branches, closures as lids. */
import type { Aircraft, Bay, Closure } from "../app/api";
import { MarkAt } from "../marks/VerdictMark";
import { capital, WORD } from "../marks/words";
import { extent, heightAt, middle, type Point, slice } from "./profile";
import { useBay } from "./useBay";
import "./lane.css";

const WING = 250;

type Sizes = { fuselage: number; text: number; mark: number; lid: number };
const TALL: Sizes = { fuselage: 800, text: 15, mark: 15, lid: 7 };
const THIN: Sizes = { fuselage: 640, text: 14, mark: 12, lid: 4.2 };
/** The strip: middle line, half its least height, and what the thickest bay adds to it. */
const STRIP = { middle: 33, least: 15.5, more: 6, height: 66, fin: 62 };
/** Both halves of the tail: how wide each is drawn. */
const TAIL = 112;
const WINGS = ["left wing", "right wing"] as const;
const TAILS = ["left tail", "right tail"] as const;

/** How stations and water lines become points: true for the page, squeezed for the strip. */
function scales(aircraft: Aircraft, s: Sizes, tall: boolean) {
  const { x0, x1, z0, z1 } = extent(aircraft);
  const scale = s.fuselage / (x1 - x0);
  const X = (x: number) => (x - x0) * scale + 6;
  const top = aircraft.outline.top as Point[];
  const bottom = aircraft.outline.bottom as Point[];
  const thick = (x: number) => heightAt(top, x) - heightAt(bottom, x);
  const thickest = Math.max(0.1, ...top.map(([x]) => thick(x)));
  const half = (x: number) => STRIP.least + (STRIP.more * thick(x)) / thickest;
  const Z = (z: number) => (z1 - z) * scale + 30;
  const edge = (x: number, up: boolean) => {
    if (tall) return Z(heightAt(up ? top : bottom, x));
    return up ? STRIP.middle - half(x) : STRIP.middle + half(x);
  };
  const along = (from: number, to: number, up: boolean): Point[] =>
    slice(up ? top : bottom, from, to).map(([x]) => [X(x), edge(x, up)]);
  const height = tall ? Z(z0) + 52 : STRIP.height;
  return { x0, x1, X, Z, edge, along, height };
}

const listed = (line: Point[]) => line.map((p) => p.join(",")).join(" ");

/** `tall`: true proportion, for the Lane page; else folded to a strip, squeezed in height. */
export function LaneFigure({ aircraft, tall = false }: { aircraft: Aircraft; tall?: boolean }) {
  const [chosen, setBay] = useBay();
  const s = tall ? TALL : THIN;
  const { x0, x1, X, Z, edge, along, height } = scales(aircraft, s, tall);
  const finWidth = tall ? 0 : STRIP.fin + 12;
  const tails = aircraft.bays.some((b) => b.part.endsWith("tail"));
  const tailWidth = tails && !tall ? TAIL + 22 : 0;
  const width = X(x1) + finWidth + tailWidth + WING + 80;
  const pick = (b: Bay) => () => setBay(chosen === b.slug ? null : b.slug);
  const step = (by: number) => {
    const all = aircraft.bays.map((b) => b.slug);
    const i = chosen ? all.indexOf(chosen) : by > 0 ? -1 : all.length;
    setBay(all[Math.max(0, Math.min(i + by, all.length - 1))] ?? null);
  };
  const fuselage = aircraft.bays.filter((b) => b.part === "fuselage");
  const fin = aircraft.bays.find((b) => b.part === "fin");
  const finLine = (aircraft.outline.fin as Point[]).map(([x, z]): Point => [X(x), Z(z)]);
  const finAt = X(x1) + 14;
  const finBox: Point[] = [
    [finAt + 10, 19],
    [finAt + STRIP.fin, 19],
    [finAt + STRIP.fin - 4, 47],
    [finAt, 47],
  ];
  return (
    <svg
      className={tall ? "lane-figure" : "lane-strip"}
      viewBox={`0 0 ${width} ${height}`}
      role="group"
      aria-label="Bays, nose to tail; stations in mm"
      onKeyDown={(e) => {
        if (e.key === "ArrowRight") step(1);
        if (e.key === "ArrowLeft") step(-1);
      }}
    >
      {fin && (
        <Cell
          bay={fin}
          points={listed(tall ? finLine : finBox)}
          x={tall ? X(middle(fin.x_m)) + 6 : finAt + STRIP.fin / 2 + 2}
          y={tall ? Z(middle(fin.z_m)) - 12 : 33}
          chosen={chosen === fin.slug}
          pick={pick(fin)}
          sizes={s}
          row={!tall}
        />
      )}
      {fuselage.map((b) => {
        const [a, c] = [b.start_m, b.end_m];
        const mid = (a + c) / 2;
        return (
          <Cell
            key={b.slug}
            bay={b}
            points={listed([...along(a, c, true), ...along(a, c, false).toReversed()])}
            x={X(mid)}
            y={(edge(mid, true) + edge(mid, false)) / 2}
            chosen={chosen === b.slug}
            pick={pick(b)}
            sizes={s}
          />
        );
      })}
      {lidsOf(aircraft).map(({ closure, from, to, level }) => {
        const mid = X((from + to) / 2);
        const line = along(from, to, closure.above);
        const shift = (closure.above ? -1 : 1) * s.lid * (1 + level * 0.95);
        const inset = line.map(([x, y]): Point => [mid + (x - mid) * 0.78, y]);
        return <Lid key={closure.slug} closure={closure} points={listed(inset)} shift={shift} />;
      })}
      <Branches
        aircraft={aircraft}
        parts={WINGS}
        x={X(x1) + finWidth + tailWidth + 66}
        y={tall ? Math.max(24, height / 2 - (tails ? 130 : 86)) : 1}
        row={tall ? 62 : height / 2 - 1}
        long={WING}
        sizes={s}
        chosen={chosen}
        pick={pick}
      />
      <Branches
        aircraft={aircraft}
        parts={TAILS}
        x={X(x1) + (tall ? 66 : finWidth + 12)}
        y={tall ? Math.max(24, height / 2 - 130) + 132 : 1}
        row={tall ? 48 : height / 2 - 1}
        long={tall ? TAIL + 26 : TAIL}
        bare={!tall}
        sizes={s}
        chosen={chosen}
        pick={pick}
      />
      {tall && <Stations x0={x0} x1={x1} X={X} y={height} />}
    </svg>
  );
}

function Stations(p: { x0: number; x1: number; X: (x: number) => number; y: number }) {
  const marks = [];
  for (let m = Math.ceil(p.x0); m <= p.x1; m++) marks.push(m);
  return marks.map((m) => (
    <g key={m} className="station">
      <path d={`M${p.X(m)} ${p.y - 22}v6`} />
      <text x={p.X(m)} y={p.y - 4}>
        {m * 1000}
      </text>
    </g>
  ));
}

type Placed = { closure: Closure; from: number; to: number; level: number };

/** Where each closure's lid lies over the fuselage; several over one place are stacked. */
function lidsOf(aircraft: Aircraft): Placed[] {
  const placed: Placed[] = [];
  for (const closure of aircraft.closures) {
    const over = aircraft.bays.filter(
      (b) => b.part === "fuselage" && closure.bays.includes(b.slug),
    );
    if (over.length === 0) continue;
    const from = Math.min(...over.map((b) => b.start_m));
    const to = Math.max(...over.map((b) => b.end_m));
    const level = placed.filter(
      (p) => p.closure.above === closure.above && p.from < to && p.to > from,
    ).length;
    placed.push({ closure, from, to, level });
  }
  return placed;
}

const STATE = (c: Closure) => (c.closed ? "closed" : c.ready ? "ready to close" : "open");

function Lid(p: { closure: Closure; points: string; shift: number }) {
  const kind = p.closure.closed ? "lid-closed" : p.closure.ready ? "lid-ready" : "lid-open";
  const middle = midpoint(p.points);
  return (
    <g transform={`translate(0 ${p.shift})`} className={`lid ${kind}`}>
      <title>{`${p.closure.name}: ${STATE(p.closure)}, ${p.closure.permanent ? "permanent" : "removable"}`}</title>
      <polyline points={p.points} />
      {p.closure.ready && (
        <path className="notch" d={`M${middle[0] - 6} ${middle[1] - 4}l6 7 6-7`} />
      )}
    </g>
  );
}

function midpoint(points: string): Point {
  const all = points.split(" ").map((p): Point => {
    const [x = 0, y = 0] = p.split(",").map(Number);
    return [x, y];
  });
  const a: Point = all[0] ?? [0, 0];
  const b: Point = all.at(-1) ?? [0, 0];
  return [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2];
}

/** Wings or tail, left over right, from the root outwards. */
function Branches(p: {
  aircraft: Aircraft;
  parts: readonly Bay["part"][];
  x: number;
  y: number;
  row: number;
  long: number;
  /** Without the part's own name before it. */
  bare?: boolean;
  sizes: Sizes;
  chosen: string | null;
  pick: (b: Bay) => () => void;
}) {
  return p.parts.map((part, i) => {
    const bays = p.aircraft.bays.filter((b) => b.part === part);
    if (bays.length === 0) return null;
    const near = Math.min(...bays.map((b) => b.start_m));
    const far = Math.max(...bays.map((b) => b.end_m));
    const X = (y: number) => p.x + ((y - near) / (far - near)) * p.long;
    const high = Math.min(p.row * 0.62, 34);
    const y0 = p.y + i * p.row + (p.row - high) / 2;
    const edge = (x: number, up: boolean) => {
      const slim = ((x - p.x) / p.long) * high * 0.14;
      return up ? y0 + slim : y0 + high - slim;
    };
    return (
      <g key={part}>
        {!p.bare && (
          <text className="branch-name" x={p.x - 6} y={y0 + high / 2 + 5}>
            {capital(part)}
          </text>
        )}
        {bays.map((b) => {
          const [a, c] = [X(b.start_m), X(b.end_m)];
          const points = `${a},${edge(a, true)} ${c},${edge(c, true)} ${c},${edge(c, false)} ${a},${edge(a, false)}`;
          return (
            <g key={b.slug}>
              <Cell
                bay={b}
                points={points}
                x={(a + c) / 2}
                y={y0 + high / 2}
                chosen={p.chosen === b.slug}
                pick={p.pick(b)}
                sizes={p.sizes}
                row
              />
              {p.aircraft.closures
                .filter((l) => l.bays.includes(b.slug))
                .map((l) => (
                  <Lid
                    key={l.slug}
                    closure={l}
                    points={`${a + 5},${edge(a, l.above)} ${c - 5},${edge(c, l.above)}`}
                    shift={l.above ? -p.sizes.lid * 0.75 : p.sizes.lid * 0.75}
                  />
                ))}
            </g>
          );
        })}
      </g>
    );
  });
}

const shortName = (b: Bay) => b.name.replace(/^(Left|Right) wing /, "");

function Cell(p: {
  bay: Bay;
  points: string;
  x: number;
  y: number;
  chosen: boolean;
  pick: () => void;
  sizes: Sizes;
  row?: boolean;
}) {
  const { bay, sizes: s } = p;
  const name = shortName(bay);
  const ends = bay.loose_ends;
  const said = `${bay.name}: ${WORD[bay.verdict]}, ${bay.open} open, ${ends} loose ${ends === 1 ? "end" : "ends"}`;
  const long = (name.length + (ends > 0 && p.row ? 2 : 0)) * s.text * 0.41;
  const whole = s.mark + 4 + long;
  return (
    <g
      className={`cell ${p.chosen ? "cell-chosen" : ""}`}
      role="button"
      tabIndex={0}
      aria-pressed={p.chosen}
      aria-label={said}
      onClick={p.pick}
      onKeyDown={(e) => {
        if (e.key === "Enter" || e.key === " ") {
          e.preventDefault();
          p.pick();
        }
      }}
    >
      <title>{said}</title>
      {/* The name says all of it in words; what is drawn is for the eye. */}
      <g aria-hidden="true">
        {p.points && <polygon points={p.points} />}
        {p.row ? (
          <>
            <text x={p.x + (whole - long) / 2} y={p.y + s.text * 0.34} fontSize={s.text}>
              {name}
              {ends > 0 && <tspan className="ends">{` ${ends}`}</tspan>}
            </text>
            <MarkAt verdict={bay.verdict} x={p.x - (whole - s.mark) / 2} y={p.y} size={s.mark} />
          </>
        ) : (
          <>
            <text x={p.x} y={p.y - s.mark * 0.25} fontSize={s.text}>
              {name}
            </text>
            <MarkAt
              verdict={bay.verdict}
              x={ends > 0 ? p.x - s.text * 1.35 : p.x}
              y={p.y + s.mark * 0.72}
              size={s.mark}
            />
            {ends > 0 && (
              <text
                className="ends"
                x={p.x + s.text * 0.6}
                y={p.y + s.mark * 0.72 + s.text * 0.34}
                fontSize={s.text}
              >
                {ends} loose
              </text>
            )}
          </>
        )}
      </g>
    </g>
  );
}
