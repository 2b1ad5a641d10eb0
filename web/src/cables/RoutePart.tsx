/** Where do they run, what do they touch, and what comes too near at the end of the travel? */
import { useState } from "react";
import Button from "react-bootstrap/Button";
import { useOutletContext, useSearchParams } from "react-router";

import type { CableLoop, Cables } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { useWrite } from "../app/useWrite";
import { Choice } from "../kit/fields";
import { Caution, Said } from "../marks/Said";
import { capital, shown } from "../marks/words";
import { CheckList } from "../marks/CheckList";
import { CableFiles } from "./CableFiles";
import { nowAt, type P3 } from "./route";
import { Shifts } from "../marks/Shifts";
import { RouteFigure } from "./RouteFigure";
import { StationsTable } from "./StationsTable";
import { force, mm, unitOf } from "./units";
import { type CablesFile, type CableTrial, useCableTrial } from "./useCableTrial";

export function RoutePart(p: { cables: Cables; solved: CableLoop }) {
  const { aircraft } = useOutletContext<FrameContext>();
  const [search, setSearch] = useSearchParams();
  const trial = useCableTrial(p.cables);
  const solved = trial.tried?.solved ?? p.solved;
  const file = (trial.tried?.document ?? p.cables.document) as CablesFile;
  const [adding, setAdding] = useState("");
  const may = aircraft.may.includes("change facts");
  const low = solved.positions[0]?.driver_deg ?? -1;
  const high = solved.positions.at(-1)?.driver_deg ?? 1;
  const deg = Math.min(Math.max(Number(search.get("at") ?? 0), low), high);
  const put = (key: string, v: string) => {
    setSearch(
      (before) => {
        const next = new URLSearchParams(before);
        if (v) next.set(key, v);
        else next.delete(key);
        return next;
      },
      { replace: true },
    );
  };
  const near = search.get("near") ?? "";
  const middle = placeOf(solved, near);
  const now = nowAt(solved, deg);
  const unit = unitOf(file);
  const checks = trial.tried
    ? solved.checks
    : p.cables.checks.filter((c) => c.part === "route" || c.key === "through travel");
  const move = (side: string, id: string, to: P3) =>
    void trial.change((f) => {
      const s = f.sides[side]?.supports?.find((x) => x.id === id);
      if (s) s.centre = to;
    });
  const place = (side: string, at: P3) => {
    if (!adding) return;
    void trial.change((f) => {
      const list = (f.sides[side] ??= { construction: "7x19", material: "galvanised" });
      const supports = (list.supports ??= []);
      const name = `${(list.name ?? side).split(" ")[0]} ${adding} ${Math.round(at[0] * 1e3)}`;
      supports.push({
        id: name,
        kind: adding as "fairlead",
        centre: at.map((v) => Math.round(v * 1e4) / 1e4),
        ...(adding === "pulley" ? { axis: [0, 1, 0], radius: 0.03, sense: 1 } : { length: 0.02 }),
      });
      supports.sort((a, b) => (a.centre[0] ?? 0) - (b.centre[0] ?? 0));
    });
    setAdding("");
  };
  return (
    <div className="subject">
      <section className="figure" aria-label="Route">
        <div className="linkage-bar">
          <Choice
            label="Look at"
            value={near}
            set={(v) => put("near", v)}
            options={[
              { value: "", word: "the whole run" },
              ...solved.fittings.map((f) => ({
                value: `${f.side} ${f.id}`,
                word: `${sideName(p.cables, f.side)}: ${f.id}`,
              })),
              ...solved.supports.map((s) => ({ value: `${s.side} ${s.id}`, word: s.id })),
            ]}
          />
          <output className="linkage-now">
            {now && (
              <>
                {force(now.A, unit)} {short(p.cables, "A")}
                {"  "}
                {force(now.B, unit)} {short(p.cables, "B")}
              </>
            )}
          </output>
        </div>
        <RouteFigure
          aircraft={aircraft}
          file={file}
          solved={solved}
          deg={deg}
          zoom={middle === null ? null : { at: middle, width: 0.7 }}
          chosen={near || null}
          choose={(key) => put("near", key)}
          {...(may ? { move } : {})}
          {...(adding ? { place } : {})}
        />
        <div className="sliders">
          <div className="slider">
            <label>
              <span>
                {capital(file.driver.body || "driver")}
                <span className="quiet">, surface at {shown(now?.driven, "°")}</span>
              </span>
              <input
                type="range"
                className="form-range"
                min={low}
                max={high}
                step={0.1}
                value={deg}
                onChange={(e) => put("at", e.target.value === "0" ? "" : e.target.value)}
              />
            </label>
            <span className="unit">{shown(deg, "°")}</span>
            <span className="slider-stops">
              <button type="button" className="plain" onClick={() => put("at", String(low))}>
                full {shown(low, "°")}
              </button>
              <button type="button" className="plain" onClick={() => put("at", "")}>
                neutral
              </button>
              <button type="button" className="plain" onClick={() => put("at", String(high))}>
                full {shown(high, "°")}
              </button>
            </span>
          </div>
        </div>
        <p className="quiet">
          Dashed: where each moving fitting stands at both ends of the travel.
          {may && " Drag a pulley or fairlead to try it elsewhere."}
        </p>
        {may && (
          <div className="inline-form">
            <Choice
              label="Add by clicking on a cable"
              value={adding}
              set={setAdding}
              options={[
                { value: "", word: "nothing" },
                { value: "fairlead", word: "a fairlead" },
                { value: "guide", word: "a guide" },
                { value: "pulley", word: "a pulley" },
              ]}
            />
            {adding && <span className="suspicious">Now click on the cable where it is.</span>}
          </div>
        )}
        <TrialBar cables={p.cables} trial={trial} />
        <StationsTable cables={p.cables} file={file} solved={solved} trial={trial} may={may} />
        <CableFiles cables={p.cables} trial={trial} />
      </section>
      <section className="verdict-sheet" aria-label="What the route says">
        <h1>{p.cables.name}: route</h1>
        {trial.tried && <p className="trial-note">For the trial, as if it were built so.</p>}
        <CheckList checks={checks} />
        <Forces cables={p.cables} solved={solved} unit={unit} />
        <Caution>{p.cables.caution}</Caution>
      </section>
    </div>
  );
}

const sideName = (cables: Cables, side: string): string =>
  cables.sides.find((s) => s.side === side)?.name ?? side;
const short = (cables: Cables, side: string): string =>
  sideName(cables, side).toLowerCase().replace(" cable", "");

/** The station of a fitting or support, m. */
function placeOf(solved: CableLoop, key: string): number | null {
  const f = solved.fittings.find((x) => `${x.side} ${x.id}` === key);
  if (f) return (f.low_m + f.high_m) / 2 + 0.08;
  return solved.supports.find((s) => `${s.side} ${s.id}` === key)?.centre[0] ?? null;
}

function TrialBar({ cables, trial }: { cables: Cables; trial: CableTrial }) {
  const { write, error, busy, pending } = useWrite();
  if (!trial.tried) return <Said error={trial.error} />;
  const keep = async () => {
    const body = { version: trial.version, document: trial.tried?.document };
    if (await write(`controls/${cables.control}/cables`, body, "Cables", "PUT")) trial.leave();
  };
  return (
    <div className="trial-bar">
      <span className="trial-note">A trial: nothing is kept yet.</span>
      <Button disabled={busy || pending || trial.busy} onClick={() => void keep()}>
        It is built so: keep
      </Button>
      <Button variant="outline-primary" onClick={trial.leave}>
        Leave it
      </Button>
      <Said error={error ?? trial.error} />
      <Shifts shifts={trial.tried.shifts} />
    </div>
  );
}

/** What the cables do to the brackets, at the highest of what they are asked to carry. */
function Forces(p: { cables: Cables; solved: CableLoop; unit: string }) {
  const s = p.solved;
  return (
    <>
      <h2>On the brackets</h2>
      <p>
        Through the travel at most {force(s.highest_N, p.unit)}
        {s.hottest_N !== null && <>, rigged right and hot (50 °C) {force(s.hottest_N, p.unit)}</>}.
        Add the cable load of the pilot effort that the maker asks (14 CFR 23.397).
      </p>
      <table className="asked forecast">
        <thead>
          <tr>
            <th scope="col">Support</th>
            <th scope="col" className="num">
              Wrap
            </th>
            <th scope="col" className="num">
              Force
            </th>
          </tr>
        </thead>
        <tbody>
          {s.supports
            .filter((x) => x.kind === "pulley")
            .map((x) => (
              <tr key={`${x.side} ${x.id}`}>
                <th scope="row">{x.id}</th>
                <td className="num">{shown(x.wrap_deg, "°")}</td>
                <td className="num">{force(x.force_N, p.unit)}</td>
              </tr>
            ))}
          {s.banks.map((b) => (
            <tr key={b.bank}>
              <th scope="row">both at {b.bank}</th>
              <td />
              <td className="num">{force(b.magnitude_N, p.unit)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <Order file={p.cables.document as CablesFile} />
      <p className="quiet">
        Lengths: {p.cables.sides.map((x) => `${x.name} ${mm(s.lengths_m[x.side])}`).join(", ")}; the
        surface turns {shown(s.gear, "°", 2)} for each degree.
      </p>
    </>
  );
}

/** Which cable lies where in each stack of pulleys. */
function Order({ file }: { file: CablesFile }) {
  const stacks = new Map<string, [number, string][]>();
  for (const side of Object.values(file.sides))
    for (const s of side.supports ?? [])
      if (typeof s.bank === "string" && s.bank)
        stacks.set(s.bank, [
          ...(stacks.get(s.bank) ?? []),
          [Number(s.place ?? 0), side.name ?? ""],
        ]);
  if (!stacks.size) return null;
  return (
    <p>
      Order in the stacks:{" "}
      {[...stacks]
        .map(([bank, list]) => {
          const names = list.sort((a, b) => a[0] - b[0]).map(([, name]) => name.toLowerCase());
          return `${bank}: ${names.join(", ")}`;
        })
        .join("; ")}
      .
    </p>
  );
}
