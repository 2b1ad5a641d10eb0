/** A tube as typed: its route, its bends, what holds it, and what its maker says. */
import { useState } from "react";
import { useOutletContext } from "react-router";
import Button from "react-bootstrap/Button";

import type { Line } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { useSources } from "../app/queries";
import { useWrite } from "../app/useWrite";
import { Entry } from "../kit/Entry";
import { Choice, Fields, same, TextArea, TextField, Tick } from "../kit/fields";

const EMPTY = {
  name: "",
  service: "fuel",
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
  page: "",
};
type Values = typeof EMPTY;

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
  const [source, setSource] = useState(one?.source ? String(one.source) : "");
  const unit = aircraft.length_unit;
  const set = (key: keyof Values) => (x: string) => setV({ ...v, [key]: x });
  const keep = async () => {
    const body = {
      ...v,
      service: v.service as "fuel",
      material: v.material as "steel",
      on_former: former,
      held,
      source: source ? Number(source) : null,
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
      <TextArea
        label={`Corners of its route, ${unit}: station, butt line, water line; one a line`}
        value={v.points}
        set={set("points")}
        hint={"2050 -100 180\n1860 -100 180\n1780 -160 220"}
      />
      <div className="three">
        <TextField
          label={`Clamps along it, ${unit}, parted by ;`}
          value={v.supports}
          set={set("supports")}
          hint="200; 400"
        />
        <Tick label="Its ends alone hold it" value={held} set={setHeld} />
      </div>
      <details open={BENDER.some(([key]) => v[key] !== "")}>
        <summary>Bender, fittings and springback</summary>
        <div className="inline-form">
          <Fields of={BENDER} values={v} set={setV} />
        </div>
      </details>
      <details open={v.min_radius !== "" || v.max_spacing !== ""}>
        <summary>The maker’s own figures</summary>
        <div className="inline-form">
          <TextField label="Least bend radius" value={v.min_radius} set={set("min_radius")} />
          <TextField
            label="Greatest span between clamps"
            value={v.max_spacing}
            set={set("max_spacing")}
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
        <p className="quiet">
          Without them AC 43.13-1B tables 9-2 and 9-3 count. Confirm against the current edition.
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
