/** Supports and moving fittings by station, each value typed; rows pasted; kept as a trial first. */

import type { CableLoop, Cables } from "../app/api";
import { Said } from "../marks/Said";
import { VerdictMark } from "../marks/VerdictMark";
import { shown } from "../marks/words";
import { mm } from "./units";
import type { CablesFile, CableTrial } from "./useCableTrial";
import { PasteRows } from "../kit/PasteRows";
import { Cell } from "../kit/Cell";

type Props = {
  cables: Cables;
  file: CablesFile;
  solved: CableLoop;
  trial: CableTrial;
  may: boolean;
};

export function StationsTable(p: Props) {
  return (
    <details open>
      <summary>Stations</summary>
      <div className="wide-table">
        <table className="asked forecast stations">
          <thead>
            <tr>
              <th scope="col">Support</th>
              <th scope="col" className="num">
                Station, mm
              </th>
              <th scope="col" className="num">
                Butt line, mm
              </th>
              <th scope="col" className="num">
                Water line, mm
              </th>
              <th scope="col">The cable there</th>
            </tr>
          </thead>
          <tbody>
            {Object.entries(p.file.sides).flatMap(([side, s]) =>
              (s.supports ?? []).map((x) => {
                const state = p.solved.supports.find((q) => q.side === side && q.id === x.id);
                return (
                  <tr key={`${side} ${x.id}`} data-support={x.id}>
                    <th scope="row">
                      {x.id} <span className="quiet">{x.kind}</span>
                    </th>
                    {[0, 1, 2].map((k) => (
                      <td key={k} className="num">
                        {p.may ? (
                          <Cell
                            label={`${x.id}, ${["station", "butt line", "water line"][k] ?? ""}, mm`}
                            value={(x.centre[k] ?? 0) * 1e3}
                            decimals={1}
                            className="form-control number-cell"
                            set={(v) =>
                              void p.trial.change((f) => {
                                const own = f.sides[side]?.supports?.find((q) => q.id === x.id);
                                if (own) own.centre[k] = v / 1e3;
                              })
                            }
                          />
                        ) : (
                          String(Number(((x.centre[k] ?? 0) * 1e3).toFixed(1)))
                        )}
                      </td>
                    ))}
                    <td>
                      {state && <VerdictMark verdict={state.verdict} />}{" "}
                      {state?.kind === "pulley"
                        ? `wraps ${shown(state.wrap_deg, "°")}, ${shown(state.misalignment_deg, "°")} out of line`
                        : state?.deflection_deg != null
                          ? `bends ${shown(state.deflection_deg, "°")}`
                          : ""}
                    </td>
                  </tr>
                );
              }),
            )}
            {Object.entries(p.file.sides).flatMap(([side, s]) =>
              (s.fittings ?? []).map((x) => {
                const state = p.solved.fittings.find((q) => q.side === side && q.id === x.id);
                const owner = p.cables.sides.find((q) => q.side === side)?.name ?? side;
                return (
                  <tr key={`${side} ${x.id}`} data-fitting={`${side} ${x.id}`}>
                    <th scope="row">
                      {owner}: {x.id} <span className="quiet">moves</span>
                    </th>
                    {[0, 1].map((k) => (
                      <td key={k} className="num">
                        {p.may ? (
                          <Cell
                            label={`${owner}: ${x.id}, ${k ? "to" : "from"}, mm`}
                            value={(x.at[k] ?? 0) * 1e3}
                            decimals={1}
                            className="form-control number-cell"
                            set={(v) =>
                              void p.trial.change((f) => {
                                const own = f.sides[side]?.fittings?.find((q) => q.id === x.id);
                                if (own) own.at[k] = v / 1e3;
                              })
                            }
                          />
                        ) : (
                          String(Number(((x.at[k] ?? 0) * 1e3).toFixed(1)))
                        )}
                      </td>
                    ))}
                    <td className="num">
                      {state && `${mm(state.travel_low_m)} to +${mm(state.travel_high_m)}`}
                    </td>
                    <td>
                      {state && <VerdictMark verdict={state.verdict} />}{" "}
                      {state?.gap_m != null && `${mm(state.gap_m)} to ${state.near}`}
                    </td>
                  </tr>
                );
              }),
            )}
          </tbody>
        </table>
      </div>
      {p.may && (
        <details>
          <summary>Paste rows</summary>
          <PasteRows
            label="side, id, kind, station, butt line, water line, radius, sense, bank"
            hint={"A;Right fairlead 4265;fairlead;4265 mm;118 mm;385 mm"}
            button="Try these rows"
            take={(rows) => p.trial.attempt(p.trial.current(), "", rows)}
          />
        </details>
      )}
      <Said error={p.trial.error} />
    </details>
  );
}
