/** The whole aircraft in three views, layers to show, and every near pair by what it has to spare. */
import { useState } from "react";

import type { ClearancePage, ClearancePair, Verdict } from "../app/api";
import { Tick } from "../kit/fields";
import { RowName } from "../kit/RowName";
import { type Drawn, Drawing } from "./Drawing";
import {
  byLayer,
  LAYERS,
  type Layer,
  layerOf,
  linesOf,
  mm,
  pointsOf,
  type P3,
  type View,
  windowOf,
} from "./figures";

const WORDS: Record<Layer, string> = {
  structure: "Structure",
  fluids: "Lines with fluid or air",
  rods: "Control rods",
  cables: "Control cables",
  wires: "Wires",
  other: "Other",
};

export function MapPart(p: {
  page: ClearancePage;
  chosen: ClearancePair | undefined;
  pick: (key: string) => void;
}) {
  const [off, setOff] = useState<Layer[]>([]);
  const there = LAYERS.filter((l) => p.page.things.some((t) => layerOf(t.kind) === l));
  return (
    <>
      <Answer page={p.page} />
      <PairTable page={p.page} chosen={p.chosen?.key} pick={p.pick} />
      <div className="clear-layers" role="group" aria-label="Layers">
        {there.map((l) => (
          <Tick
            key={l}
            label={WORDS[l]}
            value={!off.includes(l)}
            set={(on) => setOff(on ? off.filter((x) => x !== l) : [...off, l])}
          />
        ))}
      </div>
      <Views page={p.page} off={off} chosen={p.chosen} pick={p.pick} />
      <Left page={p.page} />
    </>
  );
}

/** How many touch, are too near, are in doubt: the answer first. */
function Answer({ page }: { page: ClearancePage }) {
  const touch = page.pairs.filter((x) => x.gap !== null && x.gap <= 0).length;
  const of = (v: string) => page.pairs.filter((x) => x.verdict === v).length;
  const near = of("out") - touch;
  const said = [
    [touch, touch === 1 ? "pair touches" : "pairs touch"],
    [near, near === 1 ? "is too near" : "are too near"],
    [of("too close"), "in doubt"],
    [of("not measured"), "not measured"],
    [of("accepted"), "accepted"],
    [page.pairs.filter((x) => x.verdict === "in").length, "clear"],
  ] as const;
  if (page.pairs.length === 0)
    return (
      <p>
        Nothing comes near anything else yet. What is known of lines, wires, cables and linkages is
        looked at by itself; enter under Shapes what else stands in the way.
      </p>
    );
  return (
    <p className="clear-answer" aria-label="How it stands">
      {said
        .filter(([n]) => n > 0)
        .map(([n, w]) => (
          <span key={w}>
            <strong>{n}</strong> {w}
          </span>
        ))}
    </p>
  );
}

function Views(p: {
  page: ClearancePage;
  off: Layer[];
  chosen: ClearancePair | undefined;
  pick: (key: string) => void;
}) {
  const things = p.page.things.filter((t) => !p.off.includes(layerOf(t.kind))).sort(byLayer);
  if (things.length === 0) return null;
  const pair = p.chosen ? [p.chosen.a, p.chosen.b] : [];
  const drawn: Drawn[] = [
    ...things
      .filter((t) => t.moves)
      .map((t) => ({ ...base(t), lines: linesOf(t.ends), faint: true })),
    ...things.map((t) => ({
      ...base(t),
      lines: linesOf(t.lines),
      state: pair.includes(t.name) ? "chosen" : "",
    })),
  ];
  const all = pointsOf(p.page.things);
  const place = p.chosen?.place.length ? (p.chosen.place as P3) : undefined;
  const pick = (key: string) => {
    const name = p.page.things.find((t) => t.key === key)?.name;
    const worst = p.page.pairs.find((x) => x.a === name || x.b === name);
    if (worst) p.pick(worst.key);
  };
  const one = (view: View, ratio: number) => (
    <Drawing
      key={view}
      view={view}
      window={windowOf(view, all, ratio, 80)}
      label={`All that takes room, ${view}`}
      drawn={drawn}
      gap={place && [place, place]}
      pick={pick}
    />
  );
  return (
    <div className="clear-views">
      {one("side", 3.4)}
      {one("top", 2.4)}
    </div>
  );
}

const base = (t: ClearancePage["things"][number]) => ({
  key: t.key,
  kind: t.kind,
  od: t.od,
  box: t.box,
  name: t.name,
});

function PairTable(p: {
  page: ClearancePage;
  chosen: string | undefined;
  pick: (key: string) => void;
}) {
  const [all, setAll] = useState(false);
  const open = p.page.pairs.filter((x) => x.verdict !== "in");
  const listed = all ? p.page.pairs : open;
  const clear = p.page.pairs.length - open.length;
  if (p.page.pairs.length === 0) return null;
  return (
    <>
      <table className="asked sheets-table clear-pairs" tabIndex={0} aria-label="Near pairs">
        <thead>
          <tr>
            <th scope="col">Near each other</th>
            <th scope="col" className="num">
              Gap, mm
            </th>
            <th scope="col" className="num">
              At least, mm
            </th>
            <th scope="col">Nearest with</th>
          </tr>
        </thead>
        <tbody>
          {listed.map((x) => (
            <tr key={x.key} className={x.key === p.chosen ? "chosen" : ""}>
              <RowName
                name={x.name}
                verdict={x.verdict as Verdict}
                chosen={x.key === p.chosen}
                pick={() => p.pick(x.key)}
              />
              <td className="num">{x.gap === null ? "–" : x.gap <= 0 ? "touch" : mm(x.gap)}</td>
              <td className="num">{x.rule === null ? "not entered" : mm(x.rule)}</td>
              <td>{x.why || x.at || "everything at rest"}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {clear > 0 && (
        <button type="button" className="plain" onClick={() => setAll(!all)}>
          {all ? "Only what is open" : `And ${clear} that keep their distance`}
        </button>
      )}
      <p className="quiet">
        Pairs farther apart than {mm(p.page.far)} mm at every position are not listed.
      </p>
    </>
  );
}

/** What was not looked at, and why. */
function Left({ page }: { page: ClearancePage }) {
  return (
    <>
      {page.layers.length > 0 && (
        <details className="clear-left">
          <summary>
            Custom has wires over cables over fluid lines: {page.layers.length} lie otherwise
          </summary>
          <ul>
            {page.layers.map((x) => (
              <li key={x}>{x}</li>
            ))}
          </ul>
        </details>
      )}
      {page.left.map((l) => (
        <details key={l.why} className="clear-left">
          <summary>
            {l.pairs.length} not looked at: {l.why}
          </summary>
          <ul>
            {l.pairs.map((x) => (
              <li key={x}>{x}</li>
            ))}
          </ul>
        </details>
      ))}
    </>
  );
}
