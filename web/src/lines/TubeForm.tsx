/** A tube as typed: its route, its bends, what holds it, and what its maker says. */
import { useState } from "react";
import { useOutletContext } from "react-router";
import Button from "react-bootstrap/Button";

import type { Line } from "../app/api";
import type { components } from "../app/schema.gen";
import type { FrameContext } from "../app/Frame";
import { useSources } from "../app/queries";
import { useWrite } from "../app/useWrite";
import { Entry } from "../kit/Entry";
import { HolesField, said } from "../kit/HolesField";
import type { Row } from "../kit/TableField";
import { RouteDrawing } from "./RouteDrawing";
import { Choice, Fields, same, TextArea, TextField, Tick } from "../kit/fields";

const EMPTY = {
  name: "",
  service: "fuel",
  way: "corners",
  gap_limit: "",
  material: "",
  od: "",
  points: "",
  radii: "",
  start_allowance: "",
  end_allowance: "",
  bender_offset: "",
  first_trial: "",
  second_trial: "",
  min_radius: "",
  max_spacing: "",
  grip: "",
  start_straight: "",
  end_straight: "",
  supports: "",
  edge_gap: "",
  page: "",
};
type Values = typeof EMPTY;
type HoleTyped = components["schemas"]["HoleInRequest"];

const WAYS = [
  { value: "corners", word: "its corners in the aircraft" },
  { value: "bends", word: "lengths, turns and angles of a tube" },
  { value: "old tube", word: "points along an old tube" },
];
/** What a line of the route is, and an example, by the way it is entered. */
const ROUTE: Record<string, [string, string]> = {
  corners: [
    "Corners of its route: station, butt line, water line; one a line",
    "2050 -100 180\n1860 -100 180\n1780 -160 220",
  ],
  bends: [
    "A straight on each line with the bend after it: length, turn of the plane °, angle °; the last a length alone",
    "178.5 0 42\n84.7 180 42\n118.5 56.3 90\n110",
  ],
  "old tube": [
    "Two or more points along each straight, in order; straights parted by an empty line",
    "0 0 0\n100 0.4 0\n\n150 30 0.6\n150.2 100 0.4",
  ],
};

const BENDER = [
  ["start_allowance", "Extra tube at the start", "4 mm"],
  ["end_allowance", "Extra tube at the far end", "4 mm"],
  ["bender_offset", "Bender’s line to start of bend, + to the far end", "-12 mm"],
  ["first_trial", "First trial bend: bent to; came back to, °", "46; 45"],
  ["second_trial", "Second trial bend", "93; 91"],
  ["grip", "Straight that the bender grips between bends", "50 mm"],
  ["start_straight", "First straight: flare, sleeve and nut need", "30 mm"],
  ["end_straight", "Last straight needs", "30 mm"],
] as const;

function typed(one: Line): Values {
  const kept = Object.entries(one.typed).filter(([k, v]) => k in EMPTY && typeof v === "string");
  const own = { name: one.name, service: one.service, material: one.material, page: one.page };
  return { ...EMPTY, ...Object.fromEntries(kept), ...own };
}

export function TubeForm({ one, done }: { one?: Line; done: (slug: string) => void }) {
  const { aircraft } = useOutletContext<FrameContext>();
  const sources = useSources(aircraft.slug);
  const { write, error, busy } = useWrite();
  const [v, setV] = useState<Values>(one ? typed(one) : EMPTY);
  const [former, setFormer] = useState(Boolean(one?.typed.on_former));
  const [held, setHeld] = useState(Boolean(one?.typed.held));
  const begun = one?.source ? String(one.source) : "";
  const [holes, setHoles] = useState<Row[]>((one?.typed.holes as Row[] | undefined) ?? []);
  const [noHoles, setNoHoles] = useState(Boolean(one?.typed.no_holes));
  const [source, setSource] = useState(begun);
  const [reason, setReason] = useState("");
  const unit = aircraft.length_unit;
  const set = (key: keyof Values) => (x: string) => setV({ ...v, [key]: x });
  // The maker's figures and their document are limits: who changes them says why.
  const was = one && typed(one);
  const limits = ["min_radius", "max_spacing", "edge_gap", "page"] as const;
  const otherwise = was && (source !== begun || limits.some((k) => v[k] !== was[k]));
  const keep = async () => {
    const body = {
      ...v,
      service: v.service as "fuel",
      way: v.way as "bends",
      material: v.material as "steel",
      on_former: former,
      held,
      holes: said(holes) as HoleTyped[],
      no_holes: noHoles,
      source: source ? Number(source) : null,
      reason,
    };
    const kept = one
      ? await write(`lines/${one.slug}`, { ...body, version: one.version }, v.name, "PATCH")
      : await write("lines", body, `line ${v.name}`);
    if (kept) done((kept as Line).slug);
  };
  return (
    <Entry
      label={one ? `Change ${one.name}` : "New tube"}
      save={keep}
      error={error}
      className="tube-form"
    >
      <h2>{one ? `Change ${one.name}` : "New tube"}</h2>
      <div className="three">
        <TextField label="Name" value={v.name} set={set("name")} hint="Selector to gascolator" />
        <Choice
          label="Carries"
          value={v.service}
          set={set("service")}
          options={same("fuel", "oil", "brake", "pitot", "static", "vent", "vacuum", "other")}
        />
        <Choice
          label="Material"
          value={v.material}
          set={set("material")}
          options={[{ value: "", word: "choose" }, ...same("aluminium", "steel", "other")]}
        />
      </div>
      <div className="three">
        <TextField label="Outside diameter" value={v.od} set={set("od")} hint="3/8 in" />
        <TextField
          label={`Bend radius, ${unit}; one for all or one each`}
          value={v.radii}
          set={set("radii")}
          hint="30"
        />
        <Tick label="The radius is the former’s" value={former} set={setFormer} />
      </div>
      <div className="three">
        <Choice label="Entered by" value={v.way} set={set("way")} options={WAYS} />
        {v.way === "old tube" && (
          <TextField
            label="Its straights may miss each other by"
            value={v.gap_limit}
            set={set("gap_limit")}
            hint="2 mm"
          />
        )}
      </div>
      <TextArea
        label={`${ROUTE[v.way]?.[0]} (${unit})`}
        value={v.points}
        set={set("points")}
        hint={ROUTE[v.way]?.[1] ?? ""}
      />
      {v.way === "corners" && (
        <details>
          <summary>Point at its corners on the airframe</summary>
          <RouteDrawing text={v.points} set={set("points")} />
        </details>
      )}
      {v.way !== "corners" && (
        <p className="quiet">
          A tube measured on the bench has no place in the aircraft: it is in no bay until its
          corners are entered. A mangled bend is no pattern: check with a wire first.
        </p>
      )}
      <div className="three">
        <TextField
          label={`Clamps along it, ${unit}, parted by ;`}
          value={v.supports}
          set={set("supports")}
          hint="200; 400"
        />
        <Tick label="Its ends alone hold it" value={held} set={setHeld} />
      </div>
      <HolesField unit={unit} rows={holes} set={setHoles} none={noHoles} setNone={setNoHoles} />
      <details open={BENDER.some(([key]) => v[key] !== "")}>
        <summary>Bender, fittings and springback</summary>
        <div className="inline-form">
          <Fields of={BENDER} values={v} set={setV} />
        </div>
      </details>
      <details open={[v.min_radius, v.max_spacing, v.edge_gap].some((x) => x !== "")}>
        <summary>The maker’s own figures</summary>
        <div className="inline-form">
          <TextField label="Least bend radius" value={v.min_radius} set={set("min_radius")} />
          <TextField
            label="Greatest span between clamps"
            value={v.max_spacing}
            set={set("max_spacing")}
          />
          <TextField
            label="Gap to a bare edge that needs no guard"
            value={v.edge_gap}
            set={set("edge_gap")}
          />
          <Choice
            label="From"
            value={source}
            set={setSource}
            options={[
              { value: "", word: "no document" },
              ...(sources.data?.results ?? []).map((s) => ({ value: String(s.id), word: s.cited })),
            ]}
          />
          <TextField label="Page" value={v.page} set={set("page")} />
        </div>
        {otherwise && (
          <TextField sentence label="Why it is changed" value={reason} set={setReason} />
        )}
        <p className="quiet">
          Without them AC 43.13-1B tables 9-2 and 9-3 count for bends and clamps; for edges none is
          built in. Confirm against the current edition.
        </p>
      </details>
      <div className="buttons">
        <Button type="submit" disabled={busy}>
          Keep
        </Button>
        <Button variant="outline-primary" onClick={() => done(one?.slug ?? "")}>
          Leave
        </Button>
      </div>
    </Entry>
  );
}
