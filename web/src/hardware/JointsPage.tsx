/** What holds it together, and is it final? The list on the left, one joint's sheet on the right. */
import { useOutletContext, useSearchParams } from "react-router";

import type { JointRow, Verdict } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { useJoint, useJoints } from "../app/queries";
import { OnlyBay } from "../aircraft/OnlyBay";
import { useBay } from "../aircraft/useBay";
import { Waiting } from "../marks/Said";
import { VerdictMark } from "../marks/VerdictMark";
import { plural } from "../marks/words";
import { Calculators } from "./Calculators";
import { JointForm } from "./JointForm";
import { JointSheet } from "./JointSheet";
import { StockPart } from "./StockPart";
import "./hardware.css";

export function JointsPage() {
  const { aircraft } = useOutletContext<FrameContext>();
  const [bay] = useBay();
  const [search, setSearch] = useSearchParams();
  const page = Number(search.get("page") ?? "1");
  const joints = useJoints(aircraft.slug, bay, page);
  const asked = search.get("joint") ?? "";
  const tool = search.get("tool");
  const rows = joints.data?.results ?? [];
  const worst = [...rows].sort((a, b) => rank(a) - rank(b))[0];
  const chosen = asked || worst?.slug || "";
  const go = (changes: Record<string, string | null>) =>
    setSearch((before) => {
      const after = new URLSearchParams(before);
      for (const [k, v] of Object.entries(changes))
        if (v === null) after.delete(k);
        else after.set(k, v);
      return after;
    });
  const names = new Map(aircraft.bays.map((b) => [b.slug, b.name]));
  const joint = useJoint(aircraft.slug, tool ? "" : chosen);
  return (
    <div className="subject joints-page">
      <section className="figure" aria-label="Joints">
        <h1>{plural(joints.data?.count ?? 0, "joint")}</h1>
        <OnlyBay />
        <nav className="tabs" aria-label="Tools">
          {[
            ["new", "New joint"],
            ["bolt", "Which bolt"],
            ["fit", "Must turn or clamp"],
            ["wrench", "Wrench setting"],
            ["stock", "Stock and compounds"],
          ].map(([key, word]) => (
            <button
              key={key}
              type="button"
              className="plain"
              aria-pressed={tool === key}
              onClick={() => go({ tool: tool === key ? null : (key ?? null) })}
            >
              {word}
            </button>
          ))}
        </nav>
        {!joints.data && <Waiting error={joints.error} />}
        {joints.data?.count === 0 && (
          <p>
            No joints {bay ? "in this bay" : "yet"}. Enter the first with “New joint”: what it
            holds, its bolt, its torque and how it is secured.
          </p>
        )}
        <JointTable
          rows={rows}
          chosen={tool ? "" : chosen}
          names={names}
          pick={(slug) => go({ joint: slug, tool: null })}
        />
        {joints.data && joints.data.count > 100 && (
          <p>
            <button
              type="button"
              className="plain"
              disabled={page < 2}
              onClick={() => go({ page: String(page - 1) })}
            >
              Earlier
            </button>{" "}
            page {page}{" "}
            <button
              type="button"
              className="plain"
              disabled={page * 100 >= joints.data.count}
              onClick={() => go({ page: String(page + 1) })}
            >
              More
            </button>
          </p>
        )}
      </section>
      <aside className="verdict-sheet" aria-label="Sheet">
        {tool === "new" && <JointForm done={(slug) => go({ joint: slug, tool: null })} />}
        {tool === "stock" && <StockPart />}
        {(tool === "bolt" || tool === "fit" || tool === "wrench") && (
          <Calculators key={tool} tool={tool} />
        )}
        {!tool && joint.data && <JointSheet key={joint.data.slug} joint={joint.data} />}
        {!tool && chosen && !joint.data && <Waiting error={joint.error} />}
      </aside>
    </div>
  );
}

const ORDER = ["out", "stale", "too close", "not measured", "accepted", "in"];
const rank = (j: JointRow) => ORDER.indexOf(j.verdict);

function JointTable(p: {
  rows: JointRow[];
  chosen: string;
  names: Map<string, string>;
  pick: (slug: string) => void;
}) {
  if (p.rows.length === 0) return null;
  return (
    <table className="asked joints">
      <thead>
        <tr>
          <th scope="col">Joint</th>
          <th scope="col">Bay</th>
          <th scope="col">Secured</th>
          <th scope="col">What is wrong or open</th>
        </tr>
      </thead>
      <tbody>
        {p.rows.map((j) => (
          <tr
            key={j.slug}
            className={j.slug === p.chosen ? "chosen" : ""}
            onClick={() => p.pick(j.slug)}
          >
            <td className="row-name">
              <div>
                <VerdictMark verdict={j.verdict as Verdict} />
                <button
                  type="button"
                  className="plain"
                  aria-pressed={j.slug === p.chosen}
                  onClick={() => p.pick(j.slug)}
                >
                  {j.name}
                </button>
              </div>
            </td>
            <td>{p.names.get(j.bay) ?? "none"}</td>
            <td>{j.state}</td>
            <td>{j.open.join("; ") || "nothing"}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
