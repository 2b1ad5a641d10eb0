/** The first power of a bus: what stands in its way, then breaker after breaker with its current. */
import { useState } from "react";
import Button from "react-bootstrap/Button";

import type { HarnessRow, Verdict } from "../app/api";
import { useWrite } from "../app/useWrite";
import { Entry } from "../kit/Entry";
import { Fields } from "../kit/fields";
import { unless } from "../kit/unless";
import { Caution, Said } from "../marks/Said";
import { VerdictMark } from "../marks/VerdictMark";
import { plural } from "../marks/words";
import { LiveMeter } from "./LiveMeter";
import { NOTHING } from "./WireSteps";

const EMPTY = { measured: "", u: "" };
const READ = [
  ["measured", "The ammeter reads, in all", "1.9 A"],
  ["u", "The ammeter is good to ±", "0.05 A"],
] as const;
const LUGS = [["measured", "Battery at the lugs, red lead on plus", "12.6 V"]] as const;

export function FirstPower(p: { row: HarnessRow; may: boolean; go: (slug: string) => void }) {
  const { write, error, busy } = useWrite();
  const [v, setV] = useState(EMPTY);
  const [lugs, setLugs] = useState({ measured: "" });
  const { row } = p;
  const power = row.power;
  if (!power) return null;
  const at = `harness/rows/${row.slug}/steps` as const;
  const send = (doing: "polarity" | "pulled" | "in", more: object) =>
    write(at, { ...NOTHING, ...more, doing }, `${row.name}: ${doing}`);
  const put = async () => {
    if (await send("in", { ...v, breaker: power.next })) setV(unless(v, EMPTY));
  };
  const now = power.steps.find((s) => s.breaker === power.next);
  return (
    <section aria-label="First power">
      {power.blockers.length > 0 && (
        <>
          <h2>{plural(power.blockers.length, "thing")} in the way of power</h2>
          <ul className="happened">
            {power.blockers.map((b) => (
              <li key={b.said}>
                {b.row === row.slug ? (
                  b.said
                ) : (
                  <button type="button" className="plain" onClick={() => p.go(b.row)}>
                    {b.said}
                  </button>
                )}
              </li>
            ))}
          </ul>
        </>
      )}
      <Caution>{power.caution}</Caution>
      {power.steps.length > 0 && <Sequence steps={power.steps} next={power.next} />}
      {power.stay_out.length > 0 && (
        <p className="stays-out">Only planned, and stays out: {power.stay_out.join(", ")}.</p>
      )}
      {p.may && now && (
        <Entry label="Breaker in" save={put} button={`${now.breaker} is in`} off={busy}>
          <p className="wide">
            Next: <strong>{now.breaker}</strong>. It should draw {now.low.toFixed(2)} to{" "}
            {now.high.toFixed(2)} A more. Anything else: pull it, stop, find out why.
          </p>
          <LiveMeter
            kind="current"
            at={row.slug}
            on={now.breaker}
            take={(measured, u) => setV({ measured, u })}
          />
          <Fields of={READ} values={v} set={setV} />
        </Entry>
      )}
      {p.may && (
        <div className="buttons">
          <Button variant="outline-primary" disabled={busy} onClick={() => void send("pulled", {})}>
            Every breaker is pulled, the bus is off
          </Button>
        </div>
      )}
      {p.may && (
        <Entry
          label="Polarity"
          save={async () => {
            if (await send("polarity", lugs)) setLugs({ measured: "" });
          }}
          button="Keep the polarity"
          variant="outline-primary"
          off={busy}
        >
          <Fields of={LUGS} values={lugs} set={setLugs} />
        </Entry>
      )}
      <Said error={error} />
    </section>
  );
}

function Sequence(p: { steps: NonNullable<HarnessRow["power"]>["steps"]; next: string }) {
  return (
    <div className="wide-table">
      <table className="asked power-order" tabIndex={0}>
        <caption>Breakers in their order, A</caption>
        <thead>
          <tr>
            <th scope="col">Breaker</th>
            <th scope="col" className="num">
              More
            </th>
            <th scope="col" className="num">
              It drew
            </th>
            <th scope="col" className="num">
              In all
            </th>
          </tr>
        </thead>
        <tbody>
          {p.steps.map((s) => (
            <tr key={s.breaker} className={s.breaker === p.next ? "chosen" : ""}>
              <th scope="row">
                {s.breaker}
                {s.circuits.length > 0 && <span className="quiet"> {s.circuits.join(", ")}</span>}
              </th>
              <td className="num">
                {s.low.toFixed(2)} to {s.high.toFixed(2)}
              </td>
              <td className="num">
                {s.rise === null ? (
                  "–"
                ) : (
                  <>
                    {s.rise.toFixed(2)}
                    {s.u !== null && ` ± ${s.u.toFixed(2)}`}{" "}
                    <VerdictMark verdict={s.verdict as Verdict} />
                  </>
                )}
              </td>
              <td className="num">{s.read === null ? s.total.toFixed(1) : s.read.toFixed(2)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
