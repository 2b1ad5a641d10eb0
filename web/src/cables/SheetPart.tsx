/** One page to carry to the aircraft: tension, travel and turns, and the order of the steps. */
import Button from "react-bootstrap/Button";
import { Link, useOutletContext } from "react-router";

import type { CableLoop, Cables } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { useToday } from "../app/queries";
import { useWrite } from "../app/useWrite";
import { Caution, Said } from "../marks/Said";
import { VerdictMark } from "../marks/VerdictMark";
import { capital, shown, when } from "../marks/words";
import { CheckList } from "../marks/CheckList";
import { Done } from "./EndsPart";
import { force } from "./units";

const HOW: Record<string, string> = {
  "neutral locked": "Pin driver and surface at neutral.",
  "tension set": "Turn as advised, half first; measure both cables at this temperature.",
  "travel set": "Take the pins out; measure the travel each way.",
  "stops set": "The surface's own stop is met first, each way.",
  "sense seen": "Move it and look: the surface goes the way the pilot means, by eye.",
  safetied: "Locks on both turnbuckles, cotters in every pin, guards on.",
};

export function SheetPart({ cables, solved }: { cables: Cables; solved: CableLoop }) {
  const { aircraft } = useOutletContext<FrameContext>();
  const today = useToday(aircraft.slug, cables.control, {
    temperature: "",
    mode: "free",
    use_learnt: true,
    step: "0.5",
  });
  const { write, error, busy, pending } = useWrite();
  const may = aircraft.may.includes("measure");
  const next = cables.steps.find((s) => !s.done)?.step;
  const unit = today.data?.unit ?? "lb";
  return (
    <div className="subject">
      <section className="figure" aria-label="Steps">
        <div className="linkage-bar">
          <h1>{cables.name}: in this order</h1>
          <a
            className="btn btn-outline-primary"
            href={`/api/aircraft/${aircraft.slug}/controls/${cables.control}/cables/rigging-sheet.pdf`}
          >
            Print the sheet
          </a>
        </div>
        <ol className="rig-steps">
          {cables.steps.map((s, i) => (
            <li key={s.step} className={s.step === next ? "rig-next" : ""} data-step={s.step}>
              <span className="rig-number">{i + 1}</span>
              <span>
                <strong>{capital(s.step)}</strong>
                <span>{HOW[s.step]}</span>
                {s.done && (
                  <span className="quiet">
                    {s.by}, {when(s.at)}
                  </span>
                )}
              </span>
              {s.done ? (
                <VerdictMark verdict="in" word said="Done" />
              ) : (
                may && (
                  <Button
                    variant={s.step === next ? "primary" : "outline-primary"}
                    disabled={busy || pending}
                    onClick={() =>
                      void write(
                        `controls/${cables.control}/cables/events`,
                        { doing: "step", side: "", typed: { step: s.step }, note: "" },
                        s.step,
                      )
                    }
                  >
                    Done
                  </Button>
                )
              )}
            </li>
          ))}
        </ol>
        <Said error={error} />
        <p className="quiet">A turn of a turnbuckle opens the steps behind it again.</p>
        <Done cables={cables} may={may} />
      </section>
      <section className="verdict-sheet" aria-label="Figures">
        <h1>To carry along</h1>
        <Said error={today.error} />
        {today.data && (
          <table className="asked forecast">
            <thead>
              <tr>
                <th scope="col">Cable</th>
                <th scope="col" className="num">
                  Set at {shown(today.data.temperature_C, " °C", 0)}
                </th>
                <th scope="col" className="num">
                  Has
                </th>
              </tr>
            </thead>
            <tbody>
              {today.data.sides.map((s) => (
                <tr key={s.side}>
                  <th scope="row">{cables.sides.find((x) => x.side === s.side)?.name}</th>
                  <td className="num">{force(s.set_N, unit)}</td>
                  <td className="num">
                    <VerdictMark verdict={s.verdict} /> {force(s.present_N, unit)}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
        {today.data?.turns.map((t) => (
          <p key={t.side} className="way">
            {t.said}
          </p>
        ))}
        <p>
          Through the travel {force(solved.lowest_N, unit)} to {force(solved.highest_N, unit)}.
        </p>
        <p>
          Travel is measured under{" "}
          <Link to={`/a/${aircraft.slug}/controls/${cables.control}`}>Controls</Link>.
        </p>
        <h2>Still open</h2>
        <CheckList checks={cables.checks} />
        <Caution>{cables.caution}</Caution>
      </section>
    </div>
  );
}
