/** The airframe in side view at true proportion, cut at the bay boundaries. */
import type { Aircraft, Bay } from "../app/api";
import { MarkAt } from "../marks/VerdictMark";
import { WORD } from "../marks/words";
import { useBay } from "./useBay";

type Point = [number, number];

function heightAt(line: Point[], x: number): number {
  for (let i = 1; i < line.length; i++) {
    const [x0, z0] = line[i - 1] as Point;
    const [x1, z1] = line[i] as Point;
    if (x <= x1) return z0 + ((z1 - z0) * (x - x0)) / (x1 - x0 || 1);
  }
  return line.at(-1)?.[1] ?? 0;
}

function slice(line: Point[], from: number, to: number): Point[] {
  const inside = line.filter(([x]) => x > from && x < to);
  return [[from, heightAt(line, from)], ...inside, [to, heightAt(line, to)]];
}

export function LaneFigure({ aircraft }: { aircraft: Aircraft }) {
  const [chosen, setBay] = useBay();
  const top = aircraft.outline.top as Point[];
  const bottom = aircraft.outline.bottom as Point[];
  const fin = aircraft.outline.fin as Point[];
  const all = [...top, ...bottom, ...fin];
  const [x0, x1] = [Math.min(...all.map((p) => p[0])), Math.max(...all.map((p) => p[0]))];
  const [z0, z1] = [Math.min(...all.map((p) => p[1])), Math.max(...all.map((p) => p[1]))];
  const X = (x: number) => (x - x0) * 100 + 12;
  const Z = (z: number) => (z1 - z) * 100 + 12;
  const points = (line: Point[]) => line.map(([x, z]) => `${X(x)},${Z(z)}`).join(" ");
  const stations = [];
  for (let s = Math.ceil(x0); s <= x1; s++) stations.push(s);
  const height = Z(z0) + 46;
  return (
    <svg
      className="lane-figure"
      viewBox={`0 0 ${X(x1) + 12} ${height}`}
      role="group"
      aria-label="Side view, nose to the left; stations in mm"
    >
      {aircraft.bays
        .filter((b) => b.part === "fin")
        .map((b) => (
          <Cell
            key={b.slug}
            bay={b}
            points={points(fin)}
            x={X(fin[2]?.[0] ?? 0) - 26}
            y={Z(z1) + 38}
            chosen={chosen === b.slug}
            pick={() => setBay(chosen === b.slug ? null : b.slug)}
          />
        ))}
      {aircraft.bays
        .filter((b) => b.part === "fuselage")
        .map((b) => {
          const [a, c] = [Math.max(b.start_m, x0), Math.min(b.end_m, x1)];
          const up = slice(top, a, c);
          const down = slice(bottom, a, c);
          const mid = (a + c) / 2;
          return (
            <g key={b.slug}>
              <Cell
                bay={b}
                points={points([...up, ...down.toReversed()])}
                x={X(mid)}
                y={(Z(heightAt(top, mid)) + Z(heightAt(bottom, mid))) / 2}
                chosen={chosen === b.slug}
                pick={() => setBay(chosen === b.slug ? null : b.slug)}
              />
              {b.closures.map((l, i) => {
                const line = l.above ? up : down;
                const shift =
                  (l.above ? -7 : 7) *
                  (1 + b.closures.slice(0, i).filter((o) => o.above === l.above).length * 0.8);
                const inset = line.map(([x, z]): Point => [mid + (x - mid) * 0.72, z]);
                return (
                  <polyline
                    key={l.name}
                    className={`lid ${l.closed ? "" : "lid-open"}`}
                    points={points(inset)}
                    transform={`translate(0 ${shift})`}
                  >
                    <title>{`${l.name}: ${l.closed ? "closed" : "open"}, ${l.permanent ? "permanent" : "removable"}`}</title>
                  </polyline>
                );
              })}
            </g>
          );
        })}
      {stations.map((s) => (
        <g key={s} className="station">
          <path d={`M${X(s)} ${height - 22}v6`} />
          <text x={X(s)} y={height - 4}>
            {s * 1000}
          </text>
        </g>
      ))}
    </svg>
  );
}

function Cell(p: {
  bay: Bay;
  points: string;
  x: number;
  y: number;
  chosen: boolean;
  pick: () => void;
}) {
  return (
    <g
      className={`cell ${p.chosen ? "cell-chosen" : ""}`}
      role="button"
      tabIndex={0}
      aria-pressed={p.chosen}
      aria-label={`${p.bay.name}: ${WORD[p.bay.verdict]}`}
      onClick={p.pick}
      onKeyDown={(e) => {
        if (e.key === "Enter" || e.key === " ") {
          e.preventDefault();
          p.pick();
        }
      }}
    >
      <polygon points={p.points} />
      <text x={p.x} y={p.y - 6}>
        {p.bay.name}
      </text>
      <MarkAt verdict={p.bay.verdict} x={p.x} y={p.y + 10} size={14} />
    </g>
  );
}
