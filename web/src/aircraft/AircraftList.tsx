import { Link } from "react-router";

import type { Verdict } from "../app/api";
import { useAircraftList } from "../app/queries";
import { Waiting } from "../marks/Said";
import { VerdictMark } from "../marks/VerdictMark";
import { WORD } from "../marks/words";
import "./lane.css";

const ORDER: Verdict[] = ["out", "stale", "too close", "not measured", "accepted", "in"];

export function AircraftList() {
  const list = useAircraftList();
  if (!list.data) return <Waiting error={list.error} />;
  return (
    <>
      <h1>Aircraft</h1>
      {list.data.count === 0 && (
        <p>No aircraft yet. Start your own, or ask the owner of one to make you a member.</p>
      )}
      <p>
        <Link className="btn btn-outline-primary" to="/new">
          New aircraft
        </Link>
      </p>
      <ul className="hangar">
        {list.data.results.map((a) => (
          <li key={a.slug}>
            <Link to={`/a/${a.slug}`}>
              <h2>{a.name}</h2>
              <p>{a.summary}</p>
              <p className="quiet">
                {a.role === "owner" ? "Your build" : `${a.owner}'s build; you are ${a.role}`}
              </p>
              <ul className="tally" aria-label="Everything on it by verdict">
                {ORDER.filter((v) => a.verdicts[v]).map((v) => (
                  <li key={v}>
                    <VerdictMark verdict={v} />
                    <span className="num">{a.verdicts[v]}</span> {WORD[v].toLowerCase()}
                  </li>
                ))}
              </ul>
            </Link>
          </li>
        ))}
      </ul>
    </>
  );
}
