/** What one cable consists of: its size, what moves along with it, its ends. */
import { useState } from "react";

import type { Cables } from "../app/api";
import { Choice, same, TextField } from "../kit/fields";
import { type FittingRow, FittingRows, fittingsOf, rowsOf } from "./FittingRows";
import { text, useKeep } from "./SetupForms";
import { HolesField, said } from "../kit/HolesField";
import type { Row } from "../kit/TableField";
import type { CablesFile, HoleFile, SideFile } from "./useCableTrial";
import { Entry } from "../kit/Entry";
import { fromMm, number, numbers, toMm } from "../kit/numbers";

export const SIZES = [
  ["7x7 0.0625", "7x7, 1/16 in"],
  ["7x7 0.09375", "7x7, 3/32 in"],
  ["7x19 0.09375", "7x19, 3/32 in"],
  ["7x19 0.125", "7x19, 1/8 in"],
  ["7x19 0.15625", "7x19, 5/32 in"],
  ["7x19 0.1875", "7x19, 3/16 in"],
  ["7x19 0.25", "7x19, 1/4 in"],
] as const;
const END_KINDS = same(
  "fork terminal",
  "eye terminal",
  "threaded terminal",
  "sleeve with thimble",
  "sleeve without thimble",
  "shackle",
);

/** What one cable consists of. */
export function CableForm({ cables, side }: { cables: Cables; side: string }) {
  const file = cables.document as CablesFile;
  const c = file.sides[side] as SideFile;
  const { keep, error, off } = useKeep(cables);
  const now = cables.sides.find((s) => s.side === side);
  const [v, setV] = useState({
    name: c.name ?? "",
    size: `${c.construction} ${c.diameter_in ?? ""}`,
    material: c.material,
    tpi: (c.turnbuckle?.threads_per_inch ?? []).join("; "),
    showing: (now?.showing ?? []).join("; "),
    items: (c.slide_on ?? []).map((i) => `${i.name}; ${toMm(i.bore)}`).join("\n"),
    edge_gap: c.edge_gap === undefined ? "" : toMm(c.edge_gap),
  });
  const [holes, setHoles] = useState<Row[]>((c.holes ?? []).map(rowOf));
  const [noHoles, setNoHoles] = useState(c.holes?.length === 0);
  const [fittings, setFittings] = useState<FittingRow[]>(rowsOf(c.fittings));
  const ends = { A: c.ends?.A ?? {}, B: c.ends?.B ?? {} };
  const [e, setE] = useState({
    A: endOf(ends.A),
    B: endOf(ends.B),
  });
  const set = (key: keyof typeof v) => (value: string) => setV({ ...v, [key]: value });
  const save = () =>
    keep((f) => {
      const own = f.sides[side];
      if (!own) return;
      const [construction, inch] = v.size.split(" ");
      own.name = v.name;
      own.construction = construction ?? "7x19";
      if (inch) own.diameter_in = Number(inch);
      own.material = v.material;
      own.fittings = fittingsOf(fittings);
      if (v.tpi.trim())
        own.turnbuckle = {
          ...own.turnbuckle,
          threads_per_inch: numbers(v.tpi),
          showing: numbers(v.showing),
        };
      else delete own.turnbuckle;
      own.slide_on = v.items
        .split("\n")
        .filter((line) => line.trim())
        .map((line) => {
          const [name, bore] = line.split(";");
          return { name: (name ?? "").trim(), bore: number(bore ?? "") / 1e3 };
        });
      const through = said(holes).map(holeOf);
      if (through.length && noHoles)
        throw new Error("Holes are entered: take them out, or the tick that there are none.");
      if (through.length || noHoles) own.holes = through;
      else delete own.holes;
      if (v.edge_gap.trim()) own.edge_gap = fromMm(v.edge_gap);
      else delete own.edge_gap;
      own.ends = { A: written(e.A), B: written(e.B) };
    }, `${v.name}: what it consists of`);
  return (
    <details>
      <summary>What {c.name ?? side} consists of</summary>
      <Entry save={save} button="Keep" off={off} error={error}>
        <TextField label="Name" value={v.name} set={set("name")} />
        <Choice
          label="Cable"
          value={v.size}
          set={set("size")}
          options={SIZES.map(([value, word]) => ({ value, word }))}
        />
        <Choice
          label="Material"
          value={v.material}
          set={set("material")}
          options={same("galvanised", "corrosion-resistant")}
        />
        <FittingRows rows={fittings} set={setFittings} />
        <TextField
          label="Turnbuckle: threads per inch, both ends"
          value={v.tpi}
          set={set("tpi")}
          hint="32; 32"
        />
        <TextField
          label="Threads showing now, both ends"
          value={v.showing}
          set={set("showing")}
          hint="2; 2"
        />
        {(["A", "B"] as const).map((end) => (
          <fieldset key={end} className="form-name inline-form">
            <legend>End {end === "A" ? "A, at the driver" : "B, at the surface"}</legend>
            <Choice
              label="Fitting"
              value={e[end].kind}
              set={(kind) => setE({ ...e, [end]: { ...e[end], kind } })}
              options={[NOT_SAID, ...END_KINDS]}
            />
            <TextField
              label="Its outer size, mm"
              hint="not said"
              value={e[end].size}
              set={(size) => setE({ ...e, [end]: { ...e[end], size } })}
            />
            <Choice
              label="Made by"
              value={e[end].made_by}
              set={(made_by) => setE({ ...e, [end]: { ...e[end], made_by } })}
              options={[
                NOT_SAID,
                { value: "supplier", word: "its supplier, proof-loaded" },
                { value: "builder", word: "us" },
              ]}
            />
            <Choice
              label="Its pin is kept by"
              value={e[end].pin}
              set={(pin) => setE({ ...e, [end]: { ...e[end], pin } })}
              options={[NOT_SAID, ...same("nut and cotter", "cotter only", "none")]}
            />
            {e[end].pin === "cotter only" && (
              <TextField
                label="Where the maker allows that"
                value={e[end].pin_source}
                set={(pin_source) => setE({ ...e, [end]: { ...e[end], pin_source } })}
              />
            )}
          </fieldset>
        ))}
        <HolesField unit="mm" rows={holes} set={setHoles} none={noHoles} setNone={setNoHoles} />
        <TextField
          label="Gap to a bare edge that needs no guard, mm"
          value={v.edge_gap}
          set={set("edge_gap")}
          hint="not said"
        />
        <label className="form-name">
          What must be slid on before an end is pressed, from end A to B: name; bore in mm
          <textarea
            className="form-control"
            rows={3}
            value={v.items}
            placeholder={"boot; 9\nchafe tube; 5"}
            onChange={(event) => set("items")(event.target.value)}
          />
        </label>
      </Entry>
    </details>
  );
}

/** A hole as the table has it, mm, and back; refuses what is no number. */
const rowOf = (h: HoleFile): Row => ({
  id: h.id,
  station: toMm(h.centre[0] ?? 0),
  y: toMm(h.centre[1] ?? 0),
  z: toMm(h.centre[2] ?? 0),
  d: toMm(h.d),
  plate: h.plate ?? "bulkhead",
  guard: h.guard ?? "",
});
const holeOf = (row: Row): HoleFile => {
  const of = (key: string, word: string) => {
    const found = fromMm(row[key] ?? "");
    if (!Number.isFinite(found)) throw new Error(`Hole ${row.id ?? ""}: ${word} must be a number.`);
    return found;
  };
  return {
    id: row.id ?? "",
    plate: row.plate || "bulkhead",
    centre: [of("station", "station"), of("y", "butt line"), of("z", "water line")],
    d: of("d", "diameter"),
    guard: row.guard ?? "",
  };
};
const NOT_SAID = { value: "", word: "not said" };
/** As the form holds it; empty: nobody said. */
const endOf = (e: Record<string, unknown>) => ({
  kind: word(e.kind),
  size: e.size === undefined ? "" : toMm(e.size as number),
  made_by: word(e.made_by),
  pin: word(e.pin),
  pin_source: text(e.pin_source),
});
const word = (v: unknown): string => (v === "not said" ? "" : text(v));
const written = (e: ReturnType<typeof endOf>) => ({
  kind: e.kind || "not said",
  made_by: e.made_by || "not said",
  pin: e.pin || "not said",
  pin_source: e.pin_source,
  ...(e.size.trim() ? { size: number(e.size) / 1e3 } : {}),
});
