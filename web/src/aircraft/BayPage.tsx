/** Everything in one bay: what is open, what closes it, what was seen, and its pictures. */
import Button from "react-bootstrap/Button";
import { useEffect } from "react";
import { Link, useNavigate, useOutletContext, useParams, useSearchParams } from "react-router";

import type { Aircraft, Bay } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { useContents } from "../app/queries";
import { useWrite } from "../app/useWrite";
import { GateBar, STATE_WORD } from "../closing/GateBar";
import { GateItems } from "../closing/GateItems";
import { Said, Waiting } from "../marks/Said";
import { VerdictMark } from "../marks/VerdictMark";
import { FindingsPart } from "../record/FindingsPart";
import { LeaveLoose } from "../record/LeaveLoose";
import { NotesPart } from "../record/NotesPart";
import { Photos } from "../record/Photos";
import { Signatures } from "../signoff/SignPanel";
import "./lane.css";

const mm = (range: number[]) => range.map((m) => Math.round(m * 1000)).join(" to ");

export function BayPage() {
  const { aircraft } = useOutletContext<FrameContext>();
  const { bay: slug = "" } = useParams();
  useFollowLane(aircraft.slug, slug);
  const bay = aircraft.bays.find((b) => b.slug === slug);
  if (!bay)
    return (
      <main className="page">
        <p>
          There is no such bay. <Link to={`/a/${aircraft.slug}`}>To the lane</Link>
        </p>
      </main>
    );
  return <TheBay key={slug} aircraft={aircraft} bay={bay} />;
}

/** The lane selects this bay; stepping along the lane goes to the next bay's page. */
function useFollowLane(aircraft: string, slug: string) {
  const [search, setSearch] = useSearchParams();
  const chosen = search.get("bay");
  const navigate = useNavigate();
  useEffect(() => {
    if (chosen === null) setSearch({ bay: slug }, { replace: true });
    else if (chosen !== slug)
      void navigate(`/a/${aircraft}/bays/${chosen}?bay=${chosen}`, { replace: true });
  }, [aircraft, chosen, slug, setSearch, navigate]);
}

function TheBay({ aircraft, bay }: { aircraft: Aircraft; bay: Bay }) {
  const contents = useContents(aircraft.slug, bay.slug);
  const { write, error } = useWrite();
  const may = aircraft.may;
  const data = contents.data;
  return (
    <div className="subject bay-page">
      <section className="figure" aria-label="What is in it">
        <h1>
          <VerdictMark verdict={bay.verdict} big /> {bay.name}
        </h1>
        <p className="quiet">
          Station {mm(bay.x_m)}, butt line {mm(bay.y_m)}, water line {mm(bay.z_m)} mm
        </p>
        {!data && <Waiting error={contents.error} />}
        {data && (
          <>
            <h2>Open here</h2>
            <GateItems items={data.items} here={bay.slug} empty="Nothing is open in this bay." />
            {data.undescribed.length > 0 && may.includes("measure") && (
              <p>
                <Button
                  variant="outline-primary"
                  onClick={() =>
                    void write(`bays/${bay.slug}/none-here`, {}, `nothing else in ${bay.name}`)
                  }
                >
                  There are no {data.undescribed.join(" and no ")} in this bay
                </Button>
              </p>
            )}
            <Said error={error} />
            {data.none_here.length > 0 && <p className="quiet">{data.none_here.join(" · ")}</p>}
            <details>
              <summary>Done here: {data.done.length}</summary>
              <GateItems items={data.done} here={bay.slug} empty="Nothing yet." />
            </details>
          </>
        )}
        <h2>Photos</h2>
        <Photos of={{ bay: bay.slug }} target="bay" targetId={bay.slug} shows="before closing" />
        <NotesPart bay={bay.slug} />
      </section>
      <aside className="verdict-sheet" aria-label="Closing and signing">
        <h2>What closes it</h2>
        <ul className="closings">
          {data?.closings.map((c) => (
            <li key={c.slug}>
              <Link to={`/a/${aircraft.slug}/closures/${c.slug}`}>
                <strong>{c.name}</strong>{" "}
                <span className="quiet">
                  {c.permanent ? "permanent" : "removable"},{" "}
                  {c.closed ? "closed" : (STATE_WORD[c.state] ?? c.state).toLowerCase()}
                </span>
                {!c.closed && <GateBar closing={c} />}
              </Link>
            </li>
          ))}
        </ul>
        {data?.closings.length === 0 && <p className="quiet">Nothing closes this bay.</p>}
        {may.includes("measure") && <LeaveLoose bay={bay.slug} />}
        <FindingsPart bay={bay.slug} />
        <h2>Inspection of this bay</h2>
        <Signatures slug={aircraft.slug} scope={`bay:${bay.slug}`} />
      </aside>
    </div>
  );
}
