/** Do the levers give the travel, what binds, and which turn mends it? */
import { useQuery } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import { useOutletContext, useParams, useSearchParams } from "react-router";

import { api, got, type Linkage, type Sheet, type Solved } from "../../app/api";
import type { FrameContext } from "../../app/Frame";
import { useLinkage, useSheet } from "../../app/queries";
import { Caution, Said, Waiting } from "../../marks/Said";
import { plain, shown } from "../../marks/words";
import { Subjects } from "../Subjects";
import { AdvicePart } from "./AdvicePart";
import { Curves } from "./Curves";
import { FirstLinkage } from "./FirstLinkage";
import { LinkageFigure } from "./LinkageFigure";
import { type At, type Point, pose, value, weights } from "./motion";
import { Parts } from "./Parts";
import { useLinkageTrial } from "./useLinkageTrial";
import { type View, VIEWS } from "./views";
import { Choice } from "../../kit/fields";
import { number } from "../../kit/numbers";
import "../controls.css";

export function LinkagePage() {
  const { aircraft } = useOutletContext<FrameContext>();
  const { control = "" } = useParams();
  const linkage = useLinkage(aircraft.slug, control);
  const sheet = useSheet(aircraft.slug, control);
  return (
    <div className="controls">
      <Subjects slug={aircraft.slug} control={control} here="linkage" />
      {!linkage.data || !sheet.data ? (
        <Waiting error={linkage.error ?? sheet.error} />
      ) : linkage.data.solved ? (
        <Bench
          key={control}
          linkage={linkage.data}
          solved={linkage.data.solved}
          sheet={sheet.data}
        />
      ) : (
        <FirstLinkage control={control} />
      )}
    </div>
  );
}

/** Bodies that an output depends on, so that one side can be looked at alone. */
function upstream(linkage: Linkage, body: string): Set<string> {
  type File = {
    bodies: { id: string; carried_by?: string; driven_by: Record<string, unknown> }[];
    rods?: { id: string; a: { body: string }; b: { body: string } }[];
  };
  const file = linkage.document as unknown as File;
  const found = new Set<string>();
  const todo = [body];
  for (let id = todo.pop(); id; id = todo.pop()) {
    if (found.has(id)) continue;
    found.add(id);
    const b = file.bodies.find((x) => x.id === id);
    if (b?.carried_by) todo.push(b.carried_by);
    if (typeof b?.driven_by.body === "string") todo.push(b.driven_by.body);
    const rod = file.rods?.find((r) => r.id === b?.driven_by.rod);
    if (rod) todo.push(rod.a.body, rod.b.body);
  }
  return found;
}

function Bench(p: { linkage: Linkage; solved: Solved; sheet: Sheet }) {
  const { aircraft } = useOutletContext<FrameContext>();
  const [search, setSearch] = useSearchParams();
  const trial = useLinkageTrial(aircraft.slug, p.sheet.slug, p.linkage);
  const solved = trial.tried?.solved ?? p.solved;
  const document = trial.tried?.document ?? p.linkage.document;
  const linkage = useMemo(() => ({ ...p.linkage, document }), [p.linkage, document]);
  const [lengths, setLengths] = useState<Record<string, number> | null>(null);
  const [stops, setStops] = useState<Record<string, number>>({});
  const after = useAfter(aircraft.slug, p.sheet.slug, lengths, stops);
  const put = (key: string, v: string | null) => {
    setSearch(
      (before) => {
        const next = new URLSearchParams(before);
        if (v === null) next.delete(key);
        else next.set(key, v);
        return next;
      },
      { replace: true },
    );
  };
  const at: At = Object.fromEntries(
    solved.axes.map((a) => [a.name, clamped(Number(search.get(a.name) ?? 0), a.values)]),
  );
  const view = (search.get("view") as View | null) ?? startView(solved, document);
  const side = search.get("side") ?? startSide(solved, p.sheet);
  const output = solved.outputs.find((o) => o.name === side);
  const only = useMemo(() => (output ? upstream(linkage, output.body) : null), [linkage, output]);
  const rod = search.get("rod");
  const turning = ((document as { bodies?: { id: string }[] } | null)?.bodies ?? []).map(
    (b) => b.id,
  );
  return (
    <div className="subject">
      <section className="figure" aria-label="Figure">
        <div className="linkage-bar">
          <label>
            View
            <select
              className="form-select"
              value={view}
              onChange={(e) => put("view", e.target.value)}
            >
              {VIEWS.map((v) => (
                <option key={v.value} value={v.value}>
                  {v.word}
                </option>
              ))}
              {turning.map((b) => (
                <option key={b} value={`axis ${b}`}>{`Along the axis of ${plain(b)}`}</option>
              ))}
            </select>
          </label>
          {solved.outputs.length > 1 && (
            <Choice
              label="Show"
              value={side ?? ""}
              set={(x) => put("side", x)}
              options={[
                { value: "", word: "all" },
                ...solved.outputs.map((o) => ({
                  value: o.name,
                  word: o.surface_name || plain(o.name),
                })),
              ]}
            />
          )}
          <output className="linkage-now">{nowSaid(solved, at)}</output>
        </div>
        <LinkageFigure
          linkage={linkage}
          solved={solved}
          at={at}
          move={(axis, v) => put(axis, v.toFixed(2))}
          view={view}
          only={only}
          surfaces={p.sheet.surfaces}
          ghost={trial.tried ? p.solved : (after.data?.solved ?? null)}
          chosenRod={rod}
          chooseRod={(r) => put("rod", r)}
          {...(trial.dragging && !view.startsWith("axis") ? { editing: trial.drag } : {})}
        />
        {trial.tried && (
          <p className="trial-note">
            A trial: drawn in full is what you changed, dashed is what holds. Nothing is kept yet.
          </p>
        )}
        {!trial.tried && after.data && (
          <p className="trial-note">Dashed: after the advised turns.</p>
        )}
        <Said error={trial.error ?? after.error} />
        <Sliders solved={solved} at={at} put={put} />
        <Curves solved={solved} at={at} axis={solved.axes[0]?.name ?? ""} />
        <Parts
          linkage={linkage}
          kept={p.linkage}
          solved={solved}
          sheet={p.sheet}
          trial={trial}
          rod={rod}
          chooseRod={(r) => put("rod", r)}
        />
      </section>
      <section className="verdict-sheet" aria-label="Advice">
        <AdvicePart
          linkage={p.linkage}
          solved={solved}
          sheet={p.sheet}
          side={side}
          showAfter={(l, s) => {
            setLengths(l);
            setStops(s ?? {});
          }}
          showing={lengths !== null}
          tried={trial.tried}
        />
        <Caution>
          Over-centre or a reversed control can be fatal. Check by hand, full travel, with the servo
          connected and disconnected. Turns are a trial move: measure again after each. The kit
          maker's data come first.
        </Caution>
      </section>
    </div>
  );
}

/** The linkage with other lengths and stops, for the dashed figure. */
function useAfter(
  slug: string,
  control: string,
  lengths: Record<string, number> | null,
  stops: Record<string, number>,
) {
  return useQuery({
    queryKey: ["a", slug, "linkage after", control, lengths, stops],
    enabled: lengths !== null,
    retry: false,
    queryFn: () =>
      got(
        api.POST("/api/aircraft/{slug}/controls/{control}/linkage/assess", {
          params: { path: { slug, control } },
          body: { document: null, points: "", lengths_mm: lengths ?? {}, stops },
        }),
      ),
  });
}

const clamped = (v: number, values: number[]): number =>
  Math.min(Math.max(Number.isFinite(v) ? v : 0, values[0] ?? 0), values.at(-1) ?? 0);

/** Spread over x, y and z in the reference position, mm. */
function spread(s: Solved): Point {
  const points = [...pose(s, {}).values()];
  const range = (i: 0 | 1 | 2) => {
    const values = points.map((q) => q[i]);
    return Math.max(...values) - Math.min(...values);
  };
  return [range(0), range(1), range(2)];
}

/** A surface that turns about an upright axis is seen from above, tall ones from ahead, the
 * others from the side. */
function startView(s: Solved, document: unknown): View {
  const bodies = (document as { bodies: { id: string; axis: number[] }[] }).bodies;
  const surface = s.outputs.find((o) => o.surface)?.body;
  const axis = bodies.find((b) => b.id === surface)?.axis;
  if (axis && Math.abs(axis[2] ?? 0) > 0.7) return "top";
  const [x, y, z] = spread(s);
  return z > x && z > y ? "front" : "side";
}

/** Where both wings would make it too small, the worse side alone. */
function startSide(s: Solved, sheet: Sheet): string | null {
  const [x, y, z] = spread(s);
  if (y < 2 * Math.max(x, z)) return null;
  const order = ["out", "stale", "too close", "not measured", "in", "accepted"];
  const worst = [...sheet.requirements]
    .filter((q) => s.outputs.some((o) => o.surface === q.surface))
    .sort((a, b) => order.indexOf(a.result.verdict) - order.indexOf(b.result.verdict))[0];
  return s.outputs.find((o) => o.surface === worst?.surface)?.name ?? null;
}

function nowSaid(s: Solved, at: At): string {
  const w = weights(s, at);
  const outs = s.outputs.filter((o) => o.surface);
  return (outs.length ? outs : s.outputs)
    .map((o) => {
      const v = value(o.values, w);
      return `${o.surface_name || plain(o.name)} ${v === null ? "locked" : shown(v, o.unit)}`;
    })
    .join("  ");
}

function Sliders(p: { solved: Solved; at: At; put: (key: string, v: string | null) => void }) {
  return (
    <div className="sliders">
      {p.solved.axes.map((a) => {
        const now = p.at[a.name] ?? 0;
        const ends = p.solved.stops.filter((s) => s.input === a.name)[0];
        const marksAt = (ends?.ways ?? []).filter((w) => w.input !== null);
        return (
          <div key={a.name} className="slider">
            <label>
              <span>
                {plain(a.name)} <span className="quiet">{a.positive && `(+ ${a.positive})`}</span>
              </span>
              <input
                type="range"
                className="form-range"
                min={a.values[0]}
                max={a.values.at(-1)}
                step={a.unit === "°" ? 0.1 : 0.2}
                value={now}
                onChange={(e) => p.put(a.name, e.target.value)}
              />
            </label>
            <input
              className="form-control slider-value"
              aria-label={`${plain(a.name)}, ${a.unit}`}
              value={String(Number(now.toFixed(2)))}
              inputMode="decimal"
              onChange={(e) => {
                const v = number(e.target.value);
                if (Number.isFinite(v)) p.put(a.name, String(v));
              }}
            />
            <span className="unit">{a.unit}</span>
            <span className="slider-stops">
              {marksAt.map((w) => (
                <button
                  key={w.direction}
                  type="button"
                  className="plain"
                  onClick={() => p.put(a.name, (w.input ?? 0).toFixed(2))}
                >
                  {plain(w.contacts[0]?.stop ?? "")} {shown(w.input, a.unit)}
                </button>
              ))}
              {Object.entries(a.detents).map(([name, v]) => (
                <button
                  key={name}
                  type="button"
                  className="plain"
                  onClick={() => p.put(a.name, v.toFixed(2))}
                >
                  {plain(name)}
                </button>
              ))}
              <button type="button" className="plain" onClick={() => p.put(a.name, null)}>
                neutral
              </button>
            </span>
          </div>
        );
      })}
    </div>
  );
}
