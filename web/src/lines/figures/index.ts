/** The drawing of each kind of worksheet of lines. */
import type { Figures } from "../../worksheets/Answer";
import { Ladder, LeakGauge } from "./Columns";
import { MovingHose } from "./MovingHose";
import { Pressures } from "./Pressures";
import { Schematic } from "./Schematic";
import { SelectorPlace } from "./SelectorPlace";
import { TankHole } from "./TankHole";

export const FIGURES: Figures = {
  "moving hose": MovingHose,
  "fuel system": Schematic,
  "brake system": Schematic,
  "air data": Schematic,
  "fuel path": Pressures,
  "pitot test": Ladder,
  selector: SelectorPlace,
  "tank hole": TankHole,
  "tank leak": LeakGauge,
};
