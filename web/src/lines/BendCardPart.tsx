/** The bend card, and what lies on the bench after each bend. */
import { useState } from "react";
import { useOutletContext } from "react-router";

import type { BendCard, Line } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { shown } from "../marks/words";
import { Why } from "../marks/Why";
import { TakeIt } from "../kit/TakeIt";
import { extent, TwoViews } from "./TwoViews";

export function BendCardPart({ line }: { line: Line }) {
  const { aircraft } = useOutletContext<FrameContext>();
  const { card } = line;
  const [step, setStep] = useState(0);
  const at = Math.min(step, card.bends.length);
  return (
    <section aria-label="Bend card" className="bend-card">
      <h2>{line.name}: bend card</h2>
      <p className="cut">
        Cut <strong className="num">{card.cut_mm.toFixed(1)} mm</strong>{" "}
        <span className="quiet">
          developed {card.developed_mm.toFixed(1)} mm; {card.gain_mm.toFixed(1)} mm shorter than its
          corners
        </span>{" "}
        <Why why={card.why} text="Why?" />
      </p>
      {card.bends.length > 0 ? (
        <Bends card={card} at={at} />
      ) : (
        <p>A straight tube: nothing to bend.</p>
      )}
      <p className="quiet">
        Marks are from the start of the cut tube. “Plane turns”: seen from the start towards the far
        end, clockwise is +, the plane of the bend turns. “Turn the tube”: the same at a bender
        whose plane stays put. {card.springback}
      </p>
      {card.bends.length > 0 && (
        <>
          <div className="slider">
            <label>
              <span>On the bench: {said(card, at)}</span>
              <input
                type="range"
                className="form-range"
                min={0}
                max={card.bends.length}
                step={1}
                value={at}
                onChange={(e) => setStep(Number(e.target.value))}
              />
            </label>
          </div>
          <p aria-live="polite" className="next-bend">
            {next(card, at)}
          </p>
        </>
      )}
      <TwoViews
        points={card.bench_mm[at] ?? []}
        within={extent(card.bench_mm.flat())}
        od={line.od_mm}
        words={["From above, the first bend to the left", "From the side"]}
      />
      <h2>In the aircraft</h2>
      <TwoViews
        points={card.aircraft_mm}
        within={extent(card.aircraft_mm)}
        od={line.od_mm}
        words={["From above, nose left: right is up", "From the left side, nose left"]}
      />
      <TakeIt
        at={`/api/aircraft/${aircraft.slug}/lines/${line.slug}`}
        of={[
          ["card", "Bend card as CSV"],
          ["card.pdf", "Printed on one page"],
          ...(card.bends.length > 1
            ? ([["turns.pdf", "Turns to wrap around it, 1:1"]] as const)
            : []),
          ...(card.flat ? ([["template.pdf", "Template, 1:1"]] as const) : []),
          ["shape.dxf", "DXF"],
          ["shape.json", "JSON"],
        ]}
      />
      {!card.flat && card.bends.length > 0 && (
        <p className="quiet">It does not lie flat: there is no template of it on paper.</p>
      )}
    </section>
  );
}

function Bends({ card, at }: { card: BendCard; at: number }) {
  return (
    <div className="wide-table">
      <table className="asked forecast">
        <thead>
          <tr>
            <th scope="col">Bend</th>
            <th scope="col" className="num">
              Mark, mm
            </th>
            <th scope="col" className="num">
              Plane turns
            </th>
            <th scope="col" className="num">
              Turn the tube
            </th>
            <th scope="col" className="num">
              Angle
            </th>
            <th scope="col" className="num">
              Bend to
            </th>
            <th scope="col" className="num">
              Radius, mm
            </th>
          </tr>
        </thead>
        <tbody>
          {card.bends.map((b) => (
            <tr key={b.number} className={b.number === at + 1 ? "chosen" : ""}>
              <th scope="row">{b.number}</th>
              <td className="num">{b.mark_mm.toFixed(1)}</td>
              <td className="num">{turn(b.plane_turns_deg)}</td>
              <td className="num">{turn(b.tube_turns_deg)}</td>
              <td className="num">{shown(b.angle_deg, "°")}</td>
              <td className="num">{shown(b.bend_to_deg, "°")}</td>
              <td className="num">{b.radius_mm.toFixed(1)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

const turn = (deg: number | null): string =>
  deg === null ? "–" : `${deg > 0 ? "+" : ""}${shown(deg, "°")}`;

const said = (card: BendCard, at: number): string =>
  at === 0 ? "straight, before bend 1" : at === card.bends.length ? "finished" : `after bend ${at}`;

/** What is done next, in the words of the bench. */
function next(card: BendCard, at: number): string {
  const b = card.bends[at];
  if (!b) return "Finished: compare both ends with the aircraft before flaring.";
  const way = b.tube_turns_deg;
  const turned =
    way === null || Math.abs(way) < 0.05
      ? ""
      : `turn the tube ${shown(Math.abs(way), "°")} ${way > 0 ? "clockwise" : "counter-clockwise"}, seen from the start; `;
  return `Next, bend ${b.number}: mark at ${b.mark_mm.toFixed(1)} mm; ${turned}bend to ${shown(b.bend_to_deg, "°")}.`;
}
