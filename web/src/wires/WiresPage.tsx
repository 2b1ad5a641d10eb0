/** Wires: the harness row by row, and what is asked of circuits, loads, grounds, tests. */
import { useSearchParams } from "react-router";

import { Parts } from "../kit/Parts";
import { capital } from "../marks/words";
import { SheetsPart } from "../worksheets/SheetsPart";
import { FieldMap } from "./FieldMap";
import { GroundRings } from "./GroundRings";
import { HarnessPart } from "./HarnessPart";
import { LoadChart } from "./LoadChart";
import { OverTime } from "./OverTime";
import { RecordLive } from "./RecordLive";
import "./wires.css";

const PARTS = [
  "harness",
  "circuits",
  "loads",
  "bundles",
  "grounds",
  "connectors",
  "tests",
  "compass",
  "antennas",
];
const ALL = PARTS.map((p, n) => [n ? p : "", capital(p)] as const);
const FIGURES = { phases: LoadChart, "over time": OverTime, field: FieldMap, grounds: GroundRings };
const AIDS = { "over time": RecordLive };

export function WiresPage() {
  const [search] = useSearchParams();
  const part = search.get("part") ?? "harness";
  const parts = <Parts label="Parts of wires" all={ALL} now={part === "harness" ? "" : part} />;
  if (part === "harness") return <HarnessPart>{parts}</HarnessPart>;
  return (
    <SheetsPart key={part} trade="wires" part={part} figures={FIGURES} aids={AIDS}>
      {parts}
    </SheetsPart>
  );
}
