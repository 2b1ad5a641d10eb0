/** Everything that can be flown, against the envelope: the worst of it by its loads; ballast. */
import type { WeightPage } from "../app/api";
import { capital, shown } from "../marks/words";
import { EnvelopeChart, through } from "./EnvelopeChart";
import { type Ballast, combination, type WorstFigure } from "./figures";

export function WorstChart({ figure: f }: { figure: WorstFigure }) {
  const hull = [...(f.forward ?? []), ...[...(f.aft ?? [])].reverse()];
  if (f.envelope.length === 0 && hull.length === 0) return null;
  return (
    <figure className="loading-chart">
      <EnvelopeChart
        label="Everything that can be flown, in the envelope"
        envelope={f.envelope}
        points={hull}
        mac={f.mac ?? null}
      >
        {(at) => (
          <>
            {hull.length > 1 && <path className="reach" d={`${through(hull, at)}Z`} />}
            {(["forward", "aft"] as const).map((side) => {
              const w = f.worst?.[side];
              if (!w) return null;
              const way = side === "forward" ? -1 : 1;
              const [x, y] = at([w.x_mm, w.kg]);
              return (
                <g key={side} className={w.margin_mm < w.U_mm ? "worst bad" : "worst"}>
                  <circle cx={x} cy={y} r={6} />
                  <text x={x + 10 * way} y={y + 5} textAnchor={way > 0 ? "start" : "end"}>
                    {side}
                  </text>
                </g>
              );
            })}
          </>
        )}
      </EnvelopeChart>
      {hull.length > 1 && (
        <figcaption className="quiet">
          Dashed outline: every loading that keeps its stations’ limits, each tank at any level.
          Round marks: nearest to a limit, or farthest beyond it.
        </figcaption>
      )}
    </figure>
  );
}

export function WorstTable({ figure: f }: { figure: WorstFigure }) {
  if (!f.extremes) return f.why ? <p>Not known yet: {f.why}.</p> : null;
  return (
    <table className="asked sheets-table" tabIndex={0}>
      <thead>
        <tr>
          <th scope="col">Worst loading</th>
          <th scope="col" className="num">
            At
          </th>
          <th scope="col" className="num">
            Mass
          </th>
          <th scope="col">With</th>
        </tr>
      </thead>
      <tbody>
        {f.extremes.map((e) => (
          <tr key={e.what}>
            <th scope="row">{e.what}</th>
            <td className="num">{shown(e.at_mm, " mm", 0)}</td>
            <td className="num">{e.kg.toFixed(0)} kg</td>
            <td>{combination(e.loads)}</td>
          </tr>
        ))}
        <tr>
          <th scope="row">Heaviest</th>
          <td />
          <td className="num">{f.max_kg?.toFixed(0)} kg</td>
          <td>all full it would weigh {f.full_kg?.toFixed(0)} kg</td>
        </tr>
        <tr>
          <th scope="row">Lightest</th>
          <td />
          <td className="num">{f.min_kg?.toFixed(0)} kg</td>
          <td>only what must be on board</td>
        </tr>
      </tbody>
    </table>
  );
}

export function BallastSaid({ page }: { page: WeightPage }) {
  const b = page.ballast as Ballast | null;
  if (!b)
    return (
      <p className="quiet">
        Where ballast may sit is not entered. With a place, the least ballast that brings every
        loading inside is found here.
      </p>
    );
  if (b.why) return <p>Not known: {b.why}.</p>;
  if (!b.feasible)
    return (
      <p>
        No ballast in these places brings every loading inside.{" "}
        {b.conflict && (
          <>
            {capital(b.conflict.needs)} needs what is not allowed by {b.conflict.forbids}.
          </>
        )}
      </p>
    );
  if (b.least_kg === 0) return <p>No ballast is needed for the loadings that are entered.</p>;
  return (
    <>
      <p>
        Least ballast: <strong>{b.least_kg?.toFixed(1)} kg</strong>,{" "}
        {Object.entries(b.split_kg ?? {})
          .filter(([, kg]) => kg > 0.005)
          .map(([n, kg]) => `${kg.toFixed(1)} kg at ${n}`)
          .join(", ")}
        , with {b.U_mm.toFixed(1)} mm kept to both limits.
        {b.after && ` With it, every loading that is allowed is judged: ${b.after}.`}
      </p>
      <p className="quiet">
        For {b.cases.join("; ")}. Ballast is fastened as the structure and local rules require for
        the load factors of what it is fixed to, and placarded.
      </p>
    </>
  );
}
