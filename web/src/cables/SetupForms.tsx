/** What the maker asks, what the airframe is made of, and what each cable consists of. */
import { useState } from "react";
import Button from "react-bootstrap/Button";

import type { Cables } from "../app/api";
import { useWrite } from "../app/useWrite";
import { Choice, same, TextField } from "../marks/fields";
import { Said } from "../marks/Said";
import type { CablesFile, SideFile } from "./useCableTrial";

/** Keep the file as changed here. */
function useKeep(cables: Cables) {
  const { write, error, busy, pending } = useWrite();
  const keep = (edit: (file: CablesFile) => void, label: string) => {
    const document = structuredClone(cables.document) as CablesFile;
    edit(document);
    const body = { version: cables.version, document };
    return write(`controls/${cables.control}/cables`, body, label, "PUT");
  };
  return { keep, error, off: busy || pending };
}

const text = (v: unknown): string => (typeof v === "string" ? v : "");
const MATERIALS = same(
  "aluminium alloy",
  "carbon or low-alloy steel",
  "austenitic corrosion-resistant steel",
  "wood along the grain, dry",
  "own figures",
);

export function TargetForm({ cables, open }: { cables: Cables; open: boolean }) {
  const file = cables.document as CablesFile;
  const t = file.target ?? {};
  const { keep, error, off } = useKeep(cables);
  const [v, setV] = useState({
    tension: text(t.tension),
    at: text(t.at),
    minus: text(t.minus),
    plus: text(t.plus),
    u: text(t.u),
    source: text(t.source),
    page: text(t.page),
    same: t.same === true ? "yes" : "no",
  });
  const [mix, setMix] = useState(
    (file.airframe ?? []).map((s) => ({
      material: s.material,
      length: String(Math.round(s.length * 1e3)),
      alpha: s.alpha === undefined ? "" : String(s.alpha * 1e6),
      u: s.u_alpha === undefined ? "" : String(s.u_alpha * 1e6),
    })),
  );
  const set = (key: keyof typeof v) => (value: string) => setV({ ...v, [key]: value });
  const number = (s: string): number => Number(s.replace(",", "."));
  const save = () =>
    keep((f) => {
      const { same: fixed, ...rest } = v;
      f.target = { ...f.target, ...rest, same: fixed === "yes" };
      f.airframe = mix
        .filter((m) => m.length.trim())
        .map((m) => ({
          material: m.material,
          length: number(m.length) / 1e3,
          ...(m.material === "own figures"
            ? { alpha: number(m.alpha) * 1e-6, u_alpha: number(m.u) * 1e-6 }
            : {}),
        }));
    }, "What the maker asks");
  return (
    <details open={open}>
      <summary>What the maker asks, and what the airframe is made of</summary>
      <form
        className="inline-form"
        onSubmit={(e) => {
          e.preventDefault();
          void save();
        }}
      >
        <TextField label="Tension" value={v.tension} set={set("tension")} hint="30 lb" />
        <TextField label="at" value={v.at} set={set("at")} hint="21 C" />
        <TextField label="less at most" value={v.minus} set={set("minus")} hint="3 lb" />
        <TextField label="more at most" value={v.plus} set={set("plus")} hint="3 lb" />
        <TextField label="known to ± (k = 1)" value={v.u} set={set("u")} hint="0.5 lb" />
        <TextField label="Document" value={v.source} set={set("source")} />
        <TextField label="Page" value={v.page} set={set("page")} />
        <Choice
          label="At other temperatures"
          value={v.same}
          set={set("same")}
          options={[
            { value: "no", word: "turned by the airframe's growth" },
            { value: "yes", word: "the maker says the same" },
          ]}
        />
        <fieldset className="form-name">
          <legend>The airframe along the run</legend>
          {mix.map((m, i) => (
            <div key={i} className="inline-form">
              <Choice
                label={`Piece ${i + 1}`}
                value={m.material}
                set={(material) => setMix(mix.map((x, k) => (k === i ? { ...x, material } : x)))}
                options={MATERIALS}
              />
              <TextField
                label="Length, mm"
                value={m.length}
                set={(length) => setMix(mix.map((x, k) => (k === i ? { ...x, length } : x)))}
              />
              {m.material === "own figures" && (
                <>
                  <TextField
                    label="Expansion, 1e-6 per K"
                    value={m.alpha}
                    set={(alpha) => setMix(mix.map((x, k) => (k === i ? { ...x, alpha } : x)))}
                  />
                  <TextField
                    label="± (k = 1)"
                    value={m.u}
                    set={(u) => setMix(mix.map((x, k) => (k === i ? { ...x, u } : x)))}
                  />
                </>
              )}
              <button
                type="button"
                className="plain"
                onClick={() => setMix(mix.filter((_, k) => k !== i))}
              >
                Take out
              </button>
            </div>
          ))}
          <button
            type="button"
            className="plain"
            onClick={() =>
              setMix([...mix, { material: "aluminium alloy", length: "", alpha: "", u: "" }])
            }
          >
            Add a piece
          </button>
        </fieldset>
        <p className="quiet form-name">
          Expansions: textbook values, confirm against the current edition. Laminates and brass
          depend on lay-up and alloy: enter your own. Moisture moves wood more than heat does.
        </p>
        <Button type="submit" disabled={off}>
          Keep
        </Button>
        <Said error={error} />
      </form>
    </details>
  );
}

const SIZES = [
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
    items: (c.slide_on ?? []).map((i) => `${i.name}; ${i.bore * 1e3}`).join("\n"),
    turnbuckle: span(c, "turnbuckle"),
    terminals: spans(c),
  });
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
      own.fittings = [
        ...pieces(v.turnbuckle).map((at) => ({ id: "turnbuckle", kind: "turnbuckle", at })),
        ...pieces(v.terminals).map((at, i) => ({ id: `terminal ${i + 1}`, kind: "terminal", at })),
      ];
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
          return { name: (name ?? "").trim(), bore: Number((bore ?? "").replace(",", ".")) / 1e3 };
        });
      own.ends = {
        A: { ...own.ends?.A, ...written(e.A) },
        B: { ...own.ends?.B, ...written(e.B) },
      };
    }, `${v.name}: what it consists of`);
  return (
    <details>
      <summary>What {c.name ?? side} consists of</summary>
      <form
        className="inline-form"
        onSubmit={(event) => {
          event.preventDefault();
          void save();
        }}
      >
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
        <TextField
          label="Turnbuckle, from to station, mm"
          value={v.turnbuckle}
          set={set("turnbuckle")}
          hint="4060-4175"
        />
        <TextField
          label="Terminals, from to, mm"
          value={v.terminals}
          set={set("terminals")}
          hint="1990-2050; 5920-5980"
        />
        <TextField
          label="Its threads per inch, both ends"
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
              options={END_KINDS}
            />
            <TextField
              label="Its outer size, mm"
              value={e[end].size}
              set={(size) => setE({ ...e, [end]: { ...e[end], size } })}
            />
            <Choice
              label="Made by"
              value={e[end].made_by}
              set={(made_by) => setE({ ...e, [end]: { ...e[end], made_by } })}
              options={[
                { value: "supplier", word: "its supplier, proof-loaded" },
                { value: "builder", word: "us" },
              ]}
            />
            <Choice
              label="Its pin is kept by"
              value={e[end].pin}
              set={(pin) => setE({ ...e, [end]: { ...e[end], pin } })}
              options={same("nut and cotter", "cotter only", "none")}
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
        <Button type="submit" disabled={off}>
          Keep
        </Button>
        <Said error={error} />
      </form>
    </details>
  );
}

const endOf = (e: Record<string, unknown>) => ({
  kind: text(e.kind) || "fork terminal",
  size: e.size === undefined ? "6.5" : String(Number(((e.size as number) * 1e3).toFixed(3))),
  made_by: text(e.made_by) || "supplier",
  pin: text(e.pin) || "nut and cotter",
  pin_source: text(e.pin_source),
});
const written = (e: ReturnType<typeof endOf>) => ({
  ...e,
  size: Number(e.size.replace(",", ".")) / 1e3,
});
const numbers = (s: string): number[] =>
  s
    .split(/[;\s]+/)
    .filter(Boolean)
    .map((x) => Number(x.replace(",", ".")));
const written2 = (at: number[]): string =>
  at.map((x) => String(Number((x * 1e3).toFixed(1)))).join("-");
const span = (c: SideFile, kind: string): string =>
  (c.fittings ?? [])
    .filter((f) => f.kind === kind)
    .map((f) => written2(f.at))
    .join("; ");
const spans = (c: SideFile): string =>
  (c.fittings ?? [])
    .filter((f) => f.kind !== "turnbuckle")
    .map((f) => written2(f.at))
    .join("; ");
const pieces = (s: string): number[][] =>
  s
    .split(";")
    .filter((x) => x.trim())
    .map((x) => x.split("-").map((y) => Number(y.trim().replace(",", ".")) / 1e3));
