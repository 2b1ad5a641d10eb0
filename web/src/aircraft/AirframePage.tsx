/** Where is everything? Bays, closures and openings, changed by typing or by dragging an edge. */
import Button from "react-bootstrap/Button";
import { useEffect, useState } from "react";
import { useOutletContext } from "react-router";

import type { Aircraft, Bay } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { useWrite } from "../app/useWrite";
import { Choice, same, TextField } from "../kit/fields";
import { TakeAway } from "../kit/TakeAway";
import { Said } from "../marks/Said";
import { AircraftTabs } from "./AircraftTabs";
import { AboutAircraft } from "./AboutAircraft";
import { AirframeFigure, type Edge, type Limits, limitsOf } from "./AirframeFigure";
import { ClosureForms } from "./ClosureForms";
import { OpeningForms } from "./OpeningForms";
import { useBay } from "./useBay";
import { Entry } from "../kit/Entry";
import "./lane.css";
import { unless } from "../kit/unless";

const EDGES: [Edge, string][] = [
  ["x0", "Station from"],
  ["x1", "Station to"],
  ["y0", "Butt line from"],
  ["y1", "Butt line to"],
  ["z0", "Water line from"],
  ["z1", "Water line to"],
];

type Undo = { slug: string; name: string; part: string; limits: Limits };

export function AirframePage() {
  const { aircraft } = useOutletContext<FrameContext>();
  const [asked, setBay] = useBay();
  const chosen = aircraft.bays.find((b) => b.slug === asked) ?? aircraft.bays[0];
  const may = aircraft.may.includes("change facts");
  const [undo, setUndo] = useState<Undo[]>([]);
  const { write, error, pending: busy } = useWrite();
  const [draft, setDraft] = useState<{ of: string; limits: Limits } | null>(null);
  const [wanted, setWanted] = useState({ rest: false, back: 0 });
  const limits = chosen ? (draft?.of === chosen.slug ? draft.limits : limitsOf(chosen)) : null;

  const put = async (bay: Bay, to: Record<string, string>, moved: Limits | null) => {
    const was: Undo = { slug: bay.slug, name: bay.name, part: bay.part, limits: limitsOf(bay) };
    const body = { name: bay.name, part: bay.part, ...to, version: bay.version };
    const kept = await write(`bays/${bay.slug}`, body, `limits of ${bay.name}`, "PATCH");
    if (kept) setUndo((before) => [...before, was]);
    // What was moved on meanwhile is not thrown away.
    setDraft((now) => (now && now.limits !== moved ? now : null));
    return kept !== null;
  };
  const keepMoved = () => {
    if (!chosen || !limits) return;
    const now = limitsOf(chosen);
    const moved = EDGES.filter(([e]) => limits[e] !== now[e]);
    if (moved.length === 0) return setDraft(null);
    void put(chosen, Object.fromEntries(moved.map(([e]) => [e, `${limits[e]} mm`])), limits);
  };
  const takeBack = async () => {
    const last = undo.at(-1);
    const bay = aircraft.bays.find((b) => b.slug === last?.slug);
    if (!last || !bay) return;
    const body = {
      name: last.name,
      part: last.part,
      version: bay.version,
      ...Object.fromEntries(EDGES.map(([e]) => [e, `${last.limits[e]} mm`])),
    };
    if (await write(`bays/${bay.slug}`, body, `undo ${bay.name}`, "PATCH"))
      setUndo((before) => before.slice(0, -1));
  };
  // One after the other: what is asked for while a write is under way follows it.
  useEffect(() => {
    if (busy || (!wanted.rest && wanted.back === 0)) return;
    const timer = setTimeout(() => {
      setWanted({ rest: false, back: wanted.rest ? wanted.back : wanted.back - 1 });
      if (wanted.rest) keepMoved();
      else void takeBack();
    });
    return () => clearTimeout(timer);
  });
  const rest = () => setWanted((t) => ({ ...t, rest: true }));
  const back = () => setWanted((t) => ({ ...t, back: t.back + 1 }));
  useUndoKey(back);

  return (
    <>
      <AircraftTabs />
      <div className="subject airframe-page">
        <section className="figure" aria-label="Airframe">
          <h1>Airframe</h1>
          <p className="quiet">
            Station aft +, butt line right +, water line up +. {aircraft.datum}.
          </p>
          {aircraft.overlaps.map(([a, b]) => (
            <p key={`${a}${b}`} className="caution" role="alert">
              <strong>
                {nameOf(aircraft, a)} and {nameOf(aircraft, b)} overlap.
              </strong>{" "}
              What lies in both belongs to both.
            </p>
          ))}
          {aircraft.gaps.map((g) => (
            <p key={`${g.before}${g.after}`} className="caution" role="alert">
              <strong>
                Between {nameOf(aircraft, g.before)} and {nameOf(aircraft, g.after)}, {g.mm} mm are
                in no bay.
              </strong>{" "}
              What lies there stands in no gate.
            </p>
          ))}
          <AirframeFigure
            aircraft={aircraft}
            chosen={chosen?.slug ?? ""}
            pick={setBay}
            draft={limits}
            move={(edge, to) =>
              limits && chosen && setDraft({ of: chosen.slug, limits: { ...limits, [edge]: to } })
            }
            rest={rest}
            locked={!may}
          />
          {may && (
            <p className="quiet">
              Drag an edge of the chosen bay, or focus it and use the arrow keys (Shift: 10 mm).{" "}
              <button
                type="button"
                className="plain"
                disabled={undo.length === 0 || busy}
                onClick={back}
              >
                Take the last move back (U)
              </button>
            </p>
          )}
          <Said error={error} />
          {may && <ClosureForms aircraft={aircraft} />}
          {may && <OpeningForms aircraft={aircraft} />}
        </section>
        <aside className="verdict-sheet" aria-label="Limits">
          {chosen && limits && (
            <BayForm
              key={chosen.slug}
              busy={busy}
              bay={chosen}
              limits={limits}
              may={may}
              put={put}
            />
          )}
          {may && chosen && (
            <TakeAway
              key={`away ${chosen.slug}`}
              what={chosen.name}
              at={`bays/${chosen.slug}`}
              version={chosen.version}
              hint="Only a bay in which nothing lies can go; its openings go with it."
              done={() => setBay("")}
            />
          )}
          {may && <NewBay />}
          <AboutAircraft key={aircraft.version} aircraft={aircraft} />
        </aside>
      </div>
    </>
  );
}

const nameOf = (a: Aircraft, slug: string | undefined) =>
  a.bays.find((b) => b.slug === slug)?.name ?? slug;

/** `U`, or Ctrl Z, takes the last move back; never while typing. */
function useUndoKey(back: () => void) {
  useEffect(() => {
    const press = (e: KeyboardEvent) => {
      if ((e.target as HTMLElement).closest("input, textarea, select")) return;
      const plain = e.key === "u" && !e.ctrlKey && !e.metaKey && !e.altKey;
      if (plain || (e.key === "z" && (e.ctrlKey || e.metaKey))) {
        e.preventDefault();
        back();
      }
    };
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  });
}

function BayForm(p: {
  bay: Bay;
  limits: Limits;
  may: boolean;
  busy: boolean;
  put: (bay: Bay, to: Record<string, string>, moved: null) => Promise<boolean>;
}) {
  // Only what was typed is held here: the rest follows the drawing.
  const [typed, setTyped] = useState<Record<string, string>>({});
  const now: Record<string, string> = {
    name: p.bay.name,
    ...Object.fromEntries(EDGES.map(([e]) => [e, `${p.limits[e]} mm`])),
    ...typed,
  };
  const keep = async () => {
    if (!(await p.put(p.bay, now, null))) return;
    setTyped((later) =>
      Object.fromEntries(Object.entries(later).filter(([k, v]) => typed[k] !== v)),
    );
  };
  const field = (key: string, label: string) => (
    <TextField
      key={key}
      label={label}
      value={now[key] ?? ""}
      set={(x) => setTyped({ ...typed, [key]: x })}
    />
  );
  return (
    <Entry label="Bay" save={keep} className="bay-form">
      <h2>{p.bay.name}</h2>
      {field("name", "Name")}
      <div className="pairs">{EDGES.map(([e, label]) => field(e, label))}</div>
      {p.may && (
        <Button type="submit" disabled={p.busy}>
          Keep limits
        </Button>
      )}
    </Entry>
  );
}

function NewBay() {
  const { write, error, busy } = useWrite();
  const [v, setV] = useState<Record<string, string>>({ name: "" });
  const [part, setPart] = useState("fuselage");
  const add = async () => {
    if (await write("bays", { ...v, part }, `bay ${v.name}`)) setV(unless(v, { name: "" }));
  };
  return (
    <details>
      <summary>New bay</summary>
      <Entry
        label="New bay"
        save={add}
        className="bay-form"
        button="Add bay"
        variant="outline-primary"
        off={busy}
        error={error}
      >
        <TextField label="Name" value={v.name ?? ""} set={(name) => setV({ ...v, name })} />
        <Choice
          label="Part"
          value={part}
          set={setPart}
          options={same("fuselage", "left wing", "right wing", "left tail", "right tail", "fin")}
        />
        <div className="pairs">
          {EDGES.map(([e, label]) => (
            <TextField
              key={e}
              label={label}
              value={v[e] ?? ""}
              set={(x) => setV({ ...v, [e]: x })}
            />
          ))}
        </div>
      </Entry>
    </details>
  );
}
