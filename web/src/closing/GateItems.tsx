/** What stands in the way: each with its mark, its words, whose it is, and one way to it. */
import { Link, useOutletContext } from "react-router";

import type { GateItem, Verdict } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { VerdictMark } from "../marks/VerdictMark";
import "./closing.css";

const PLACE: [string, string][] = [
  ["joints", "Joints"],
  ["controls", "Controls"],
  ["cables", "Cables"],
  ["lines", "Lines"],
  ["wires", "Wires"],
  ["loose-ends", "Loose ends"],
  ["sources", "Sources"],
  ["bays", "The bay"],
  ["closures", "Count"],
];

export function placeWord(link: string): string {
  return PLACE.find(([start]) => link.startsWith(start))?.[1] ?? "Go there";
}

export function GateItems({
  items,
  empty,
  here = "",
}: {
  items: GateItem[];
  empty: string;
  /** The bay whose page this is: it is not told again. */
  here?: string;
}) {
  const { aircraft } = useOutletContext<FrameContext>();
  const named = new Map(aircraft.bays.map((b) => [b.slug, b.name]));
  // A thing that runs through many bays is not told by them.
  const where = (bays: string[]) =>
    bays.length > 3 || bays.join() === here ? "" : bays.map((b) => named.get(b) ?? b).join(", ");
  if (items.length === 0) return <p className="quiet">{empty}</p>;
  return (
    <ul className="gate-items">
      {items.map((i) => (
        <li key={i.step + i.id}>
          <VerdictMark verdict={i.verdict as Verdict} />
          <div>
            <strong>{i.subject}</strong>
            <p className="quiet">
              {where(i.bays) && `${where(i.bays)} · `}
              {i.step}: {i.state}
              {i.owner !== "nobody" && ` · ${i.owner}`}
            </p>
          </div>
          {i.link && i.link !== `bays/${here}` && (
            <Link to={`/a/${aircraft.slug}/${i.link}`}>{placeWord(i.link)}</Link>
          )}
        </li>
      ))}
    </ul>
  );
}
