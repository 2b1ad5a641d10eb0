/** What was entered of a line, and correcting it or taking it away. */
import { useState } from "react";
import { Link, useOutletContext } from "react-router";

import type { Line } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { Change } from "../kit/Change";
import { TakeAway } from "../kit/TakeAway";
import { Signatures } from "../signoff/SignPanel";
import { TubeForm } from "./TubeForm";

export function LineSheet({ line, may, gone }: { line: Line; may: boolean; gone: () => void }) {
  const { aircraft } = useOutletContext<FrameContext>();
  const [open, setOpen] = useState(false);
  const names = new Map(aircraft.bays.map((b) => [b.slug, b.name]));
  const facts: [string, string][] = [
    ["Carries", line.service],
    ["Tube", `${line.material}, ${line.od_mm.toFixed(2)} mm outside`],
    ["Held at", line.supports_mm ? held(line.supports_mm) : "not said"],
    ["Maker’s figures from", line.cited || "none entered"],
  ];
  return (
    <>
      <h2>Where it runs</h2>
      {line.stretches.length === 0 && (
        <p>Measured on the bench: it has no place in the aircraft yet.</p>
      )}
      <ul className="happened">
        {line.stretches.map((s) => (
          <li key={`${s.bay} ${s.from_mm}`}>
            {s.bay ? (
              <Link to={`/a/${aircraft.slug}/bays/${s.bay}`}>{names.get(s.bay) ?? s.bay}</Link>
            ) : (
              "outside all bays"
            )}{" "}
            <span className="num">
              {s.to_mm - s.from_mm < 1
                ? `at its wall, ${s.from_mm.toFixed(0)} mm`
                : `${s.from_mm.toFixed(0)} to ${s.to_mm.toFixed(0)} mm`}
            </span>
          </li>
        ))}
      </ul>
      <h2>What was entered</h2>
      <dl className="facts">
        {facts.map(([word, value]) => (
          <div key={word}>
            <dt>{word}</dt>
            <dd>{value}</dd>
          </div>
        ))}
      </dl>
      <h2>Signatures</h2>
      <Signatures slug={aircraft.slug} scope={`line:${line.slug}`} />
      {may && <Change name={line.name} open={open} set={setOpen} />}
      {open && (
        <>
          <TubeForm key={line.version} one={line} done={() => setOpen(false)} />
          <TakeAway what={line.name} at={`lines/${line.slug}`} version={line.version} done={gone} />
        </>
      )}
    </>
  );
}

const held = (at: number[]): string =>
  at.length ? `${at.map((x) => x.toFixed(0)).join(", ")} mm` : "both ends alone";
