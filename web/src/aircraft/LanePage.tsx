/** What stands between me and closing up? In this first form: what the controls say. */
import { Link, useOutletContext } from "react-router";

import type { FrameContext } from "../app/Frame";
import { useControls } from "../app/queries";
import { Waiting } from "../marks/Said";
import { VerdictMark } from "../marks/VerdictMark";
import { LaneFigure } from "./LaneFigure";
import { lids } from "./LaneStrip";
import { useBay } from "./useBay";

export function LanePage() {
  const { aircraft } = useOutletContext<FrameContext>();
  const controls = useControls(aircraft.slug);
  const [chosen] = useBay();
  const bays = chosen ? aircraft.bays.filter((b) => b.slug === chosen) : aircraft.bays;
  return (
    <div className="lane-page">
      <h1>{aircraft.name}</h1>
      <p className="quiet">
        {aircraft.summary}. {aircraft.datum}.
      </p>
      <LaneFigure aircraft={aircraft} />
      <div className="two">
        <section aria-label="Controls">
          <h2>Controls</h2>
          {!controls.data && <Waiting error={controls.error} />}
          <ul className="rows">
            {controls.data?.results.map((c) => (
              <li key={c.slug}>
                <Link to={`/a/${aircraft.slug}/controls/${c.slug}`}>
                  <VerdictMark verdict={c.verdict} word />
                  <strong>{c.name}</strong>
                  <span className="num">
                    {c.in_count} of {c.requirements} in
                  </span>
                </Link>
              </li>
            ))}
          </ul>
        </section>
        <section aria-label="Bays">
          <h2>{chosen ? "This bay" : "Bays"}</h2>
          <ul className="rows">
            {bays.map((b) => (
              <li key={b.slug}>
                <VerdictMark verdict={b.verdict} word />
                <strong>{b.name}</strong>
                <span className="quiet">
                  {b.judged ? `${b.judged} judged` : "nothing measured here yet"}
                </span>
                <span className="quiet wide">{lids(b).split(". ")[1]}</span>
              </li>
            ))}
          </ul>
        </section>
      </div>
    </div>
  );
}
