/** Openings that an arm can pass: from outside into a bay, or from one bay into the next. */
import Button from "react-bootstrap/Button";
import { useState } from "react";

import type { Aircraft } from "../app/api";
import { useWrite } from "../app/useWrite";
import { Choice, TextField } from "../kit/fields";
import { Entry } from "../kit/Entry";
import { TakeAway } from "../kit/TakeAway";

type Opening = Aircraft["openings"][number];
const AXES = ["x", "y", "z"] as const;
const mm = (m: number | undefined) => (m === undefined ? "" : `${Math.round(m * 1000)} mm`);

export function OpeningForms({ aircraft }: { aircraft: Aircraft }) {
  const [slug, setSlug] = useState("");
  const chosen = aircraft.openings.find((o) => o.slug === slug);
  return (
    <details>
      <summary>Openings for an arm: {aircraft.openings.length}</summary>
      <Choice
        label="Opening"
        value={slug}
        set={setSlug}
        options={[
          { value: "", word: "a new one" },
          ...aircraft.openings.map((o) => ({ value: o.slug, word: o.name })),
        ]}
      />
      <OpeningForm
        key={`${slug}.${chosen?.version ?? aircraft.openings.length}`}
        aircraft={aircraft}
        opening={chosen}
      />
      {chosen && (
        <TakeAway
          key={`away ${slug}`}
          what={chosen.name}
          at={`openings/${slug}`}
          version={chosen.version}
          done={() => setSlug("")}
        />
      )}
    </details>
  );
}

function begin(aircraft: Aircraft, o: Opening | undefined): Record<string, string> {
  const corners = AXES.flatMap((axis, i) => [
    [`${axis}0`, mm(o?.lo_m[i])],
    [`${axis}1`, mm(o?.hi_m[i])],
  ]);
  return {
    name: o?.name ?? "",
    bay_a: o?.bay_a ?? aircraft.bays[0]?.slug ?? "",
    bay_b: o?.bay_b ?? "",
    closure: o?.closure ?? "",
    width: mm(o?.width_m),
    ...Object.fromEntries(corners),
  };
}

function OpeningForm({ aircraft, opening }: { aircraft: Aircraft; opening: Opening | undefined }) {
  const { write, error, busy } = useWrite();
  const [v, setV] = useState(() => begin(aircraft, opening));
  const set = (key: string) => (x: string) => setV({ ...v, [key]: x });
  const bays = aircraft.bays.map((b) => ({ value: b.slug, word: b.name }));
  const corner = (key: string, label: string) => (
    <TextField label={label} value={v[key] ?? ""} set={set(key)} />
  );
  return (
    <Entry
      label="Opening"
      save={() => {
        const body = { ...v, version: opening?.version ?? 0 };
        void (opening
          ? write(`openings/${opening.slug}`, body, `opening ${v.name}`, "PATCH")
          : write("openings", body, `opening ${v.name}`));
      }}
      className=""
      error={error}
    >
      <div className="pairs">
        {corner("name", "Name")}
        {corner("width", "Clear width")}
        <Choice label="Into" value={v.bay_a ?? ""} set={set("bay_a")} options={bays} />
        <Choice
          label="From"
          value={v.bay_b ?? ""}
          set={set("bay_b")}
          options={[{ value: "", word: "outside" }, ...bays]}
        />
        {corner("x0", "Station from")}
        {corner("x1", "Station to")}
        {corner("y0", "Butt line from")}
        {corner("y1", "Butt line to")}
        {corner("z0", "Water line from")}
        {corner("z1", "Water line to")}
      </div>
      <Choice
        label="Closed by"
        value={v.closure ?? ""}
        set={set("closure")}
        options={[
          { value: "", word: "nothing: a hole" },
          ...aircraft.closures.map((c) => ({ value: c.slug, word: c.name })),
        ]}
      />
      <p className="quiet">An opening is flat: both corners are alike on one axis.</p>
      <div className="buttons">
        <Button type="submit" disabled={busy}>
          {opening ? "Keep opening" : "Add opening"}
        </Button>
      </div>
    </Entry>
  );
}
