/** The empty aircraft from its weighing through every change, and what planned ones would do. */
import type { Verdict, WeightPage } from "../app/api";
import { VerdictMark } from "../marks/VerdictMark";
import type { Effect, Side } from "./figures";

export function LedgerTable(p: {
  page: WeightPage;
  chosen: string | undefined;
  pick: (slug: string) => void;
}) {
  const rows = p.page.ledger;
  if (rows.length === 0)
    return (
      <p>
        Not weighed yet. Changes entered here count from the first weighing on; parts of an aircraft
        that is not weighed belong to the estimate.
      </p>
    );
  return (
    <table className="asked sheets-table" tabIndex={0}>
      <thead>
        <tr>
          <th scope="col">Change</th>
          <th scope="col">Day</th>
          <th scope="col" className="num">
            Empty mass
          </th>
          <th scope="col" className="num">
            Arm
          </th>
          <th scope="col" className="num">
            Moment
          </th>
        </tr>
      </thead>
      <tbody>
        {rows.map((r) => (
          <tr key={r.slug} className={r.slug === p.chosen ? "chosen" : ""}>
            <td className="row-name">
              <button
                type="button"
                className="plain"
                aria-pressed={r.slug === p.chosen}
                onClick={() => p.pick(r.slug)}
              >
                {r.name}
              </button>
            </td>
            <td>{r.day}</td>
            <td className="num">
              {r.kg.toFixed(1)} kg ± {r.U_kg.toFixed(1)}
            </td>
            <td className="num">
              {r.x_mm.toFixed(0)} mm ± {r.U_mm.toFixed(1)}
            </td>
            <td className="num">{r.moment.toFixed(1)} kg·m</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

export function EffectSaid({ effect: e }: { effect: Effect | null }) {
  if (!e) return null;
  if (e.why) return <p>What is planned cannot be judged: {e.why}.</p>;
  return (
    <section aria-label="What is planned">
      <h2>What is planned: {e.names.join(", ")}</h2>
      <table className="asked">
        <thead>
          <tr>
            <td />
            <th scope="col" className="num">
              Empty
            </th>
            <th scope="col" className="num">
              Arm
            </th>
            <th scope="col" className="num">
              Worst, to the forward limit
            </th>
            <th scope="col" className="num">
              To the aft limit
            </th>
            <th scope="col">Every loading</th>
          </tr>
        </thead>
        <tbody>
          <OneSide word="Now" s={e.before} />
          <OneSide word="With it" s={e.after} />
        </tbody>
      </table>
      <p>
        {e.reweigh_due ? "Then a weighing is due: " : "No weighing is due for it: "}
        {e.accumulated.mass_kg.toFixed(1)} kg and {e.accumulated.moment_kg_m.toFixed(1)} kg·m
        changed by calculation since the last one.
      </p>
      <p className="quiet">
        A calculated change is no weighing. Major changes, and local rules, may ask for one.
      </p>
    </section>
  );
}

const mm = (v: number | null) => (v === null ? "–" : `${v.toFixed(1).replace("-", "−")} mm`);

const OneSide = ({ word, s }: { word: string; s: Side }) => (
  <tr>
    <th scope="row">{word}</th>
    <td className="num">{s.kg.toFixed(1)} kg</td>
    <td className="num">{s.x_mm.toFixed(0)} mm</td>
    <td className="num">{mm(s.forward_mm)}</td>
    <td className="num">{mm(s.aft_mm)}</td>
    <td>
      <VerdictMark verdict={s.verdict as Verdict} word />
    </td>
  </tr>
);
