/** Wires: circuits, loads, bundles, grounds, connectors, tests, compass and antennas. */
import { useSearchParams } from "react-router";

import { Parts } from "../kit/Parts";
import { capital } from "../marks/words";
import { SheetsPart } from "../worksheets/SheetsPart";
import { LoadChart } from "./LoadChart";
import { OverTime } from "./OverTime";
import "./wires.css";

const PARTS = [
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
const FIGURES = { phases: LoadChart, "over time": OverTime };

export function WiresPage() {
  const [search] = useSearchParams();
  const part = search.get("part") ?? "circuits";
  const now = part === "circuits" ? "" : part;
  return (
    <SheetsPart key={part} trade="wires" part={part} figures={FIGURES}>
      <Parts label="Parts of wires" all={ALL} now={now} />
    </SheetsPart>
  );
}
