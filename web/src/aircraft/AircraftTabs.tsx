/** What belongs to the aircraft as a whole: its airframe, its instruments, its people. */
import { NavLink, useOutletContext } from "react-router";

import type { FrameContext } from "../app/Frame";

const PARTS = [
  ["airframe", "Airframe"],
  ["instruments", "Instruments"],
  ["people", "People"],
] as const;

export function AircraftTabs() {
  const { aircraft } = useOutletContext<FrameContext>();
  return (
    <nav className="control-sides" aria-label="Of the aircraft as a whole">
      {PARTS.map(([to, word]) => (
        <NavLink key={to} to={`/a/${aircraft.slug}/${to}`}>
          {word}
        </NavLink>
      ))}
    </nav>
  );
}
