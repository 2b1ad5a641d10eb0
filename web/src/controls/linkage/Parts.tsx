/** Below the figure: travel and stops, rods, geometry, what-if, parts. One open at a time. */
import { useSearchParams } from "react-router";

import type { Linkage, Sheet, Solved } from "../../app/api";
import { VerdictMark } from "../../marks/VerdictMark";
import { plain, positionWord, range, shown } from "../../marks/words";
import { LinkageFiles } from "./LinkageFiles";
import { GeometryPart } from "./GeometryPart";
import { RodsPart } from "./RodsPart";
import { StrengthPart } from "./StrengthPart";
import type { Trial } from "./useLinkageTrial";
import { VariantsPart } from "./VariantsPart";

const TABS = [
  ["travel", "Travel and stops"],
  ["rods", "Rods"],
  ["geometry", "Geometry"],
  ["variants", "Variants"],
  ["parts", "Strength, play, balance"],
  ["file", "File"],
] as const;

type Props = {
  linkage: Linkage;
  kept: Linkage;
  solved: Solved;
  sheet: Sheet;
  trial: Trial;
  rod: string | null;
  chooseRod: (rod: string) => void;
};

export function Parts(p: Props) {
  const [search, setSearch] = useSearchParams();
  const asked = search.get("part") ?? (search.get("rod") ? "rods" : "travel");
  const open = TABS.some(([key]) => key === asked) ? asked : "travel";
  return (
    <>
      <div className="tabs" role="tablist">
        {TABS.map(([key, word]) => (
          <button
            key={key}
            type="button"
            role="tab"
            aria-selected={open === key}
            onClick={() =>
              setSearch(
                (before) => {
                  const next = new URLSearchParams(before);
                  next.set("part", key);
                  return next;
                },
                { replace: true },
              )
            }
          >
            {word}
          </button>
        ))}
      </div>
      {open === "travel" && <TravelPart solved={p.solved} />}
      {open === "rods" && <RodsPart {...p} />}
      {open === "geometry" && <GeometryPart {...p} />}
      {open === "variants" && <VariantsPart {...p} />}
      {open === "parts" && <StrengthPart linkage={p.kept} sheet={p.sheet} />}
      {open === "file" && <LinkageFiles {...p} />}
    </>
  );
}

function TravelPart({ solved }: { solved: Solved }) {
  return (
    <>
      <table className="asked" tabIndex={0}>
        <caption>By geometry, before anything is measured</caption>
        <thead>
          <tr>
            <th scope="col">Surface</th>
            <th scope="col">Position</th>
            <th scope="col" className="num">
              Required
            </th>
            <th scope="col" className="num">
              Linkage gives
            </th>
            <th scope="col" className="num">
              Input there
            </th>
            <th scope="col">Stop met first</th>
            <th scope="col">Verdict</th>
          </tr>
        </thead>
        <tbody>
          {solved.travel.map((t) => (
            <tr key={`${t.output}/${t.position}`}>
              <td>{t.surface_name}</td>
              <td>{positionWord(t.position)}</td>
              <td className="num">
                {t.lo === null && t.hi === null ? "–" : range(t.lo, t.hi, t.unit)}
              </td>
              <td className="num">{shown(t.value, t.unit)}</td>
              <td className="num">{shown(t.input, t.input_unit)}</td>
              <td>{plain(t.stop)}</td>
              <td>
                {t.lo === null && t.hi === null ? (
                  <span className="quiet">nothing asked</span>
                ) : (
                  <VerdictMark verdict={t.verdict} word />
                )}
                {t.said && <div className="reading-how">{t.said}</div>}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {solved.stops
        .filter((s) => s.ways.some((w) => w.contacts.length) || s.findings.length)
        .map((s) => (
          <div key={s.output} className="stops-of">
            <h2>
              Stops, {plain(s.output)} <VerdictMark verdict={s.verdict} />
            </h2>
            {s.ways.map((w) => (
              <p key={w.direction} className="way">
                <strong>{w.direction === "plus" ? "+" : "−"}</strong>{" "}
                {w.contacts.length === 0
                  ? "no stop is met"
                  : w.contacts
                      .map((c, i) =>
                        i === 0
                          ? `${plain(c.stop)} (${c.kind}) at ${shown(w.output, s.unit)}`
                          : `${plain(c.stop)} (${c.kind}) ${shown(c.margin, s.unit)} later`,
                      )
                      .join(", ")}
                {w.not_reached.length > 0 && (
                  <span className="quiet">
                    ; not reached: {w.not_reached.map(plain).join(", ")}
                  </span>
                )}
              </p>
            ))}
            {s.throw_difference !== null && (
              <p className="way">
                Throw {plain(s.input)}: {shown(s.throw_difference, s.input_unit, 2)} between both
                ways
              </p>
            )}
            {s.findings.map((f) => (
              <p key={f} className="suspicious">
                {f}
              </p>
            ))}
          </div>
        ))}
      {solved.cautions.length > 0 && (
        <div className="stops-of">
          <h2>Look closer</h2>
          <ul>
            {solved.cautions.map((c) => (
              <li key={c} className="way">
                {c}
              </li>
            ))}
          </ul>
          <p className="quiet">
            Over the whole range looked at, stops or not.{" "}
            {shown(solved.least_transmission_deg, "°", 0)} and{" "}
            {shown(solved.least_to_dead_centre_deg, "°", 0)} are shop values, not a standard's.
          </p>
        </div>
      )}
    </>
  );
}
