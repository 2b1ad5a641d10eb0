/** The cables as open files, out and in; and the first ones of a control. */
import { useState } from "react";
import { useOutletContext } from "react-router";

import type { Cables } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { useWrite } from "../app/useWrite";
import { Choice, Fields, same } from "../kit/fields";
import { Said } from "../marks/Said";
import { SIZES } from "./CableForm";
import type { CablesFile, CableTrial } from "./useCableTrial";
import { Entry } from "../kit/Entry";
import { FilePart } from "../kit/FilePart";
import { TakeAway } from "../kit/TakeAway";
import { number } from "../kit/numbers";

export function CableFiles({ cables, trial }: { cables: Cables; trial: CableTrial }) {
  const { aircraft } = useOutletContext<FrameContext>();
  const at = `/api/aircraft/${aircraft.slug}/controls/${cables.control}/cables`;
  return (
    <details>
      <summary>Files</summary>
      <p>
        <a href={`${at}/file.json`}>Cables as JSON</a>,{" "}
        <a href={`${at}/supports.csv`}>supports as CSV</a>.
      </p>
      <FilePart take={trial.attempt} button="Try this file" variant="outline-primary" />
      {aircraft.may.includes("change facts") && (
        <TakeAway
          what="these cables"
          at={`controls/${cables.control}/cables`}
          version={cables.version}
          hint="Their guards and pins go with them. What was measured on them or done to them keeps them here."
        />
      )}
    </details>
  );
}

/** Two straight cables between two levers, to be moved where they are. */
function straight(v: Record<string, string>): CablesFile {
  const m = (key: string) => number(v[key] ?? "") / 1e3;
  const [x0, x1] = [m("front"), m("rear")];
  const [r0, r1, z] = [m("front_arm"), m("rear_arm"), m("water")];
  const upright = v.axis === "upright";
  // Crosswise levers send each cable from below to above: side by side they pass each other.
  const beside = m("beside") / 2;
  const [construction, inch] = (v.size ?? "").split(" ");
  const travel = (m("travel") * 1e3 * Math.PI) / 180;
  const side = (name: string) => ({
    name,
    construction: construction ?? "",
    diameter_in: Number(inch),
    material: v.material ?? "",
    supports: [],
    fittings: [],
  });
  return {
    format: "ash-lane cables",
    edition: 1,
    driver: {
      pivot: [x0, 0, z],
      axis: upright ? [0, 0, 1] : [0, 1, 0],
      A: upright ? [x0, r0, z] : [x0, beside, z - r0],
      B: upright ? [x0, -r0, z] : [x0, -beside, z + r0],
      range: [-travel, travel],
      ...(v.moved ? { positive: v.moved } : {}),
    },
    driven: {
      pivot: [x1, 0, z],
      axis: upright ? [0, 0, 1] : [0, -1, 0],
      A: upright ? [x1, r1, z] : [x1, beside, z + r1],
      B: upright ? [x1, -r1, z] : [x1, -beside, z - r1],
    },
    sides: {
      A: side(upright ? "Right cable" : "Up cable"),
      B: side(upright ? "Left cable" : "Down cable"),
    },
    target: v.tension?.trim()
      ? {
          tension: v.tension,
          at: v.at,
          minus: v.band,
          plus: v.band,
          source: v.source ?? "",
        }
      : null,
  };
}

/** What must be typed before there is anything to draw. */
const NEEDED = ["front", "rear", "front_arm", "rear_arm", "water", "travel"];
const CHOSEN = ["size", "material", "axis"];
const needed = (v: Record<string, string>): string[] =>
  v.axis === "crosswise" ? [...NEEDED, "beside"] : NEEDED;
const typed = (v: Record<string, string>): boolean =>
  CHOSEN.every((k) => v[k]) && needed(v).every((k) => Number.isFinite(number(v[k] ?? "")));

const NONE = { value: "", word: "choose" };
const FIELDS = [
  ["front", "Station of the front lever, mm", "1800"],
  ["rear", "Station of the rear lever, mm", "5900"],
  ["front_arm", "Arm of the front lever, mm", "120"],
  ["rear_arm", "Arm of the rear lever, mm", "85"],
  ["water", "Water line, mm", "500"],
  ["travel", "The front lever turns each way, °", "20"],
  ["tension", "Tension that the maker asks", "30 lb"],
  ["at", "at the temperature", "21 C"],
  ["band", "plus and minus", "3 lb"],
  ["source", "Document", "Drawing 27-01"],
] as const;

/** Nothing there yet: what goes here, and the first step. */
export function FirstCables({ control, name }: { control: string; name: string }) {
  const { aircraft } = useOutletContext<FrameContext>();
  const { write, error, busy } = useWrite();
  const [v, setV] = useState<Record<string, string>>({});
  if (!aircraft.may.includes("change facts"))
    return <p className="p-3">No cables are described yet for {name}.</p>;
  const keep = (document: unknown) =>
    void write(`controls/${control}/cables`, { version: 0, document }, "Cables", "PUT");
  return (
    <div className="page">
      <h1>{name}: no cables yet</h1>
      <p>
        Begin with two straight cables between two levers; then add pulleys and fairleads on the
        drawing or by station, and the turnbuckles and terminals that move along.
      </p>
      <Entry save={() => keep(straight(v))} button="Begin with these" off={busy || !typed(v)}>
        <Fields of={FIELDS} values={v} set={setV} />
        <Choice
          label="Cable"
          value={v.size ?? ""}
          set={(size) => setV({ ...v, size })}
          options={[NONE, ...SIZES.map(([value, word]) => ({ value, word }))]}
        />
        <Choice
          label="Material"
          value={v.material ?? ""}
          set={(material) => setV({ ...v, material })}
          options={[NONE, ...same("galvanised", "corrosion-resistant")]}
        />
        <Choice
          label="The levers turn about"
          value={v.axis ?? ""}
          set={(axis) => setV({ ...v, axis, moved: "" })}
          options={[
            NONE,
            { value: "upright", word: "an upright axis (rudder)" },
            { value: "crosswise", word: "a crosswise axis (elevator)" },
          ]}
        />
        {v.axis && (
          <Choice
            label="Its positive turn is"
            value={v.moved ?? ""}
            set={(moved) => setV({ ...v, moved })}
            options={[
              { value: "", word: "not said" },
              ...same(v.axis === "upright" ? "right pedal forward" : "stick aft"),
            ]}
          />
        )}
        {v.axis === "crosswise" && (
          <Fields
            of={[["beside", "The cables lie beside each other by, mm", "60"]]}
            values={v}
            set={setV}
          />
        )}
      </Entry>
      <details>
        <summary>Or bring in a cables file</summary>
        <FilePart take={keep} button="Bring it in" off={busy} />
      </details>
      <Said error={error} />
    </div>
  );
}
