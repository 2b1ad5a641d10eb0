/** The controls of the aircraft, and of each its travel sheet and its linkage. */
import { Link, useOutletContext } from "react-router";

import type { FrameContext } from "../app/Frame";
import { useControls } from "../app/queries";
import { useBay } from "../aircraft/useBay";
import { VerdictMark } from "../marks/VerdictMark";

export function Subjects(p: { slug: string; control: string; here: "" | "linkage" }) {
  const controls = useControls(p.slug);
  const { aircraft } = useOutletContext<FrameContext>();
  const [bay] = useBay();
  const kept = bay ? `?bay=${bay}` : "";
  const to = (control: string, part: string) =>
    `/a/${p.slug}/controls/${control}${part && "/" + part}${kept}`;
  return (
    <div className="subjects-line">
      <nav className="subjects" aria-label="Controls">
        {(controls.data?.results ?? []).map((c) => (
          <Link
            key={c.slug}
            to={to(c.slug, p.here)}
            aria-current={c.slug === p.control ? "page" : undefined}
          >
            <VerdictMark verdict={c.verdict} />
            {c.name}
          </Link>
        ))}
        {aircraft.may.includes("change facts") && (
          <Link to={`/a/${p.slug}/controls/${p.control}?new=1`} className="add-control">
            Add a control
          </Link>
        )}
      </nav>
      <nav className="control-sides" aria-label="Of this control">
        <Link to={to(p.control, "")} aria-current={p.here === "" ? "page" : undefined}>
          Travel
        </Link>
        <Link to={to(p.control, "linkage")} aria-current={p.here ? "page" : undefined}>
          Linkage
        </Link>
      </nav>
    </div>
  );
}
