/** What measures here, how well, and is it in date? Gauges with their calibration cards. */
import { useOutletContext } from "react-router";

import type { FrameContext } from "../app/Frame";
import { useInstruments } from "../app/queries";
import { CardForm } from "../cables/CardForm";
import { InstrumentForm } from "../controls/InstrumentForm";
import { Waiting } from "../marks/Said";
import { plural } from "../marks/words";
import { AircraftTabs } from "./AircraftTabs";
import "../controls/controls.css";

export function InstrumentsPage() {
  const { aircraft } = useOutletContext<FrameContext>();
  const list = useInstruments(aircraft.slug);
  if (!list.data) return <Waiting error={list.error} />;
  const late = list.data.results.filter((i) => i.overdue);
  const gauges = list.data.results.filter((i) => i.kind === "tension");
  const may = aircraft.may.includes("measure");
  return (
    <>
      <AircraftTabs />
      <div className="page-in instruments-page">
        <h1>{plural(list.data.count, "instrument")}</h1>
        {late.length > 0 && (
          <p className="caution" role="alert">
            <strong>Past calibration: {late.map((i) => i.name).join(", ")}.</strong> What they read
            is never In until they are renewed.
          </p>
        )}
        {list.data.count === 0 && (
          <p>
            Nothing measures here yet. Enter each level, ruler, torque wrench, tension gauge and
            thermometer with the accuracy that its maker gives: every verdict rests on it.
          </p>
        )}
        <InstrumentForm slug={aircraft.slug} />
        {gauges.length > 0 && <h2>Calibration cards of tension gauges</h2>}
        {may &&
          gauges.map((g) => (
            <section key={g.id} aria-label={`Card of ${g.name}`}>
              <h3>{g.name}</h3>
              <CardForm gauge={g} />
            </section>
          ))}
      </div>
    </>
  );
}
