/** Are they tight enough today, at this temperature, and which way do I turn? */
import { Link, Navigate, useOutletContext, useParams, useSearchParams } from "react-router";

import { useBay } from "../aircraft/useBay";
import type { FrameContext } from "../app/Frame";
import { useCables, useLoops } from "../app/queries";
import { Waiting } from "../marks/Said";
import { VerdictMark } from "../marks/VerdictMark";
import { EndsPart } from "./EndsPart";
import { FirstCables } from "./CableFiles";
import { RoutePart } from "./RoutePart";
import { SheetPart } from "./SheetPart";
import { TensionPart } from "./TensionPart";
import "./cables.css";

export const PARTS = [
  ["tension", "Tension today"],
  ["route", "Route"],
  ["ends", "Ends and locks"],
  ["sheet", "Rigging sheet"],
] as const;

export function CablesPage() {
  const { aircraft } = useOutletContext<FrameContext>();
  const { control } = useParams();
  const [search] = useSearchParams();
  const loops = useLoops(aircraft.slug);
  if (!loops.data) return <Waiting error={loops.error} />;
  const first = loops.data.results.find((l) => l.has_cables) ?? loops.data.results[0];
  if (!first)
    return (
      <p className="p-3">
        No controls are described yet.{" "}
        <Link to={`/a/${aircraft.slug}/controls`}>Add a control</Link> first: its cables belong to
        it.
      </p>
    );
  if (!control)
    return (
      <Navigate replace to={`/a/${aircraft.slug}/cables/${first.control}?${search.toString()}`} />
    );
  return (
    <div className="controls cables">
      <Loops control={control} />
      <OneLoop key={control} control={control} />
    </div>
  );
}

/** The controls with cables first; those without stand behind a word. */
function Loops({ control }: { control: string }) {
  const { aircraft } = useOutletContext<FrameContext>();
  const loops = useLoops(aircraft.slug);
  const [search] = useSearchParams();
  const [bay] = useBay();
  const part = search.get("part") ?? "tension";
  const to = (c: string, p: string) =>
    `/a/${aircraft.slug}/cables/${c}?part=${p}${bay ? `&bay=${bay}` : ""}`;
  const rows = loops.data?.results ?? [];
  const listed = rows.filter((l) => l.has_cables || l.control === control);
  const others = rows.filter((l) => !l.has_cables && l.control !== control);
  const here = rows.find((l) => l.control === control);
  return (
    <div className="subjects-line">
      <nav className="subjects" aria-label="Cables">
        {listed.map((l) => (
          <Link
            key={l.control}
            to={to(l.control, part)}
            aria-current={l.control === control ? "page" : undefined}
          >
            <VerdictMark verdict={l.verdict} />
            {l.name}
          </Link>
        ))}
        {others.length > 0 && (
          <details className="more-loops">
            <summary>Others</summary>
            {others.map((l) => (
              <Link key={l.control} to={to(l.control, "tension")}>
                {l.name}: enter its cables
              </Link>
            ))}
          </details>
        )}
      </nav>
      {here?.has_cables && (
        <nav className="control-sides" aria-label="Of these cables">
          {PARTS.map(([key, word]) => (
            <Link key={key} to={to(control, key)} aria-current={key === part ? "page" : undefined}>
              {word}
            </Link>
          ))}
        </nav>
      )}
    </div>
  );
}

function OneLoop({ control }: { control: string }) {
  const { aircraft } = useOutletContext<FrameContext>();
  const cables = useCables(aircraft.slug, control);
  const [search] = useSearchParams();
  if (!cables.data) return <Waiting error={cables.error} />;
  const solved = cables.data.solved;
  if (!solved) return <FirstCables control={control} name={cables.data.name} />;
  const part = search.get("part") ?? "tension";
  if (part === "route") return <RoutePart cables={cables.data} solved={solved} />;
  if (part === "ends") return <EndsPart cables={cables.data} />;
  if (part === "sheet") return <SheetPart cables={cables.data} solved={solved} />;
  return <TensionPart cables={cables.data} />;
}
