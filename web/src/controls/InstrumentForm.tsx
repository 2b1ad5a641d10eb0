/** The aircraft's instruments: what they are good for, a new one, or one renewed. */
import { useState } from "react";
import { useOutletContext } from "react-router";

import { api, got, type Instrument } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { useInstruments, useRefresh } from "../app/queries";
import { TextField } from "../marks/fields";
import { Entry } from "../kit/Entry";

const FACES = [
  ["plus_minus_180", "−180 to 180°"],
  ["plus_minus_90", "−90 to 90°"],
  ["full_360", "0 to 360°"],
  ["quadrant_90", "0 to 90°, no sign"],
] as const;

const HINTS: Record<Instrument["kind"], [string, string]> = {
  angle: ["0.2°", "0.05°"],
  length: ["0.3 mm", "0.5 mm"],
  torque: ["4 in lb", "1 in lb"],
  tension: ["0.5", "0.5"],
  temperature: ["0.5 C", "0.1 C"],
};
const LIVE: Instrument["kind"][] = ["angle", "tension", "temperature"];

export function InstrumentForm({ slug }: { slug: string }) {
  const { aircraft } = useOutletContext<FrameContext>();
  const list = useInstruments(slug);
  const [open, setOpen] = useState<number | null>(null);
  const may = aircraft.may.includes("measure");
  const addresses = list.data?.addresses ?? [];
  return (
    <>
      <ul className="rows">
        {list.data?.results.map((i) => (
          <li key={i.id}>
            <strong>{i.name}</strong>
            <span className="num">
              ±{i.accuracy_typed}, step {i.resolution_typed}
            </span>
            <span className={i.overdue ? "overdue" : "quiet"}>
              {calibration(i)}
              {i.live && ", can be read live"}{" "}
              {may && (
                <button
                  type="button"
                  className="plain"
                  aria-label={`Change ${i.name}`}
                  onClick={() => setOpen(open === i.id ? null : i.id)}
                >
                  {open === i.id ? "Leave as it is" : "Change"}
                </button>
              )}
            </span>
            {open === i.id && (
              <div className="wide-form">
                <OneForm
                  key={i.version}
                  slug={slug}
                  one={i}
                  addresses={addresses}
                  onDone={() => setOpen(null)}
                />
              </div>
            )}
          </li>
        ))}
      </ul>
      {may && <OneForm slug={slug} addresses={addresses} />}
    </>
  );
}

function calibration(i: Instrument): string {
  if (!i.calibration_due) return "no calibration date";
  return `calibration ${i.overdue ? "was due" : "good to"} ${i.calibration_due}`;
}

type OneProps = { slug: string; one?: Instrument; addresses: string[]; onDone?: () => void };

function OneForm({ slug, one, addresses, onDone }: OneProps) {
  const refresh = useRefresh(slug);
  const start = {
    name: one?.name ?? "",
    kind: one?.kind ?? "angle",
    face: (one?.face || "plus_minus_180") as (typeof FACES)[number][0],
    accuracy: one?.accuracy_typed ?? "",
    resolution: one?.resolution_typed ?? "",
    due: one?.calibration_due ?? "",
    address: one?.address ?? "",
  };
  const [v, setV] = useState(start);
  const [error, setError] = useState<unknown>(null);
  const save = async () => {
    const { due, ...rest } = v;
    const body = {
      ...rest,
      face: v.kind === "angle" ? v.face : ("" as const),
      calibrated_on: one?.calibrated_on || null,
      calibration_due: due || null,
    };
    try {
      const path = { slug };
      if (one)
        await got(
          api.PATCH("/api/aircraft/{slug}/instruments/{instrument}", {
            params: { path: { slug, instrument: one.id } },
            body: { ...body, version: one.version },
          }),
        );
      else await got(api.POST("/api/aircraft/{slug}/instruments", { params: { path }, body }));
      setError(null);
      if (!one) setV(start);
      onDone?.();
    } catch (e) {
      setError(e);
    }
    await refresh();
  };
  const angle = v.kind === "angle";
  return (
    <Entry
      label={one ? `Change ${one.name}` : "New instrument"}
      save={save}
      button={one ? "Keep" : "Add"}
      error={error}
    >
      <TextField label="Name" value={v.name} set={(name) => setV({ ...v, name })} />
      {!one && (
        <label>
          Measures
          <select
            className="form-select"
            value={v.kind}
            onChange={(e) => setV({ ...v, kind: e.target.value as "angle" })}
          >
            <option value="angle">angles</option>
            <option value="length">lengths</option>
            <option value="torque">torque</option>
            <option value="tension">cable tension, in divisions</option>
            <option value="temperature">temperature</option>
          </select>
        </label>
      )}
      {angle && (
        <label>
          Its face shows
          <select
            className="form-select"
            value={v.face}
            onChange={(e) => setV({ ...v, face: e.target.value as typeof v.face })}
          >
            {FACES.map(([value, word]) => (
              <option key={value} value={value}>
                {word}
              </option>
            ))}
          </select>
        </label>
      )}
      <TextField
        label="Accuracy, ± (maker's limit)"
        value={v.accuracy}
        hint={HINTS[v.kind][0]}
        set={(accuracy) => setV({ ...v, accuracy })}
      />
      <TextField
        label="One step of the display"
        value={v.resolution}
        hint={HINTS[v.kind][1]}
        set={(resolution) => setV({ ...v, resolution })}
      />
      <TextField
        label="Calibration due"
        type="date"
        value={v.due}
        set={(due) => setV({ ...v, due })}
      />
      {LIVE.includes(v.kind) && addresses.length > 0 && (
        <label>
          Read live at
          <select
            className="form-select"
            value={v.address}
            onChange={(e) => setV({ ...v, address: e.target.value })}
          >
            <option value="">not read live</option>
            {addresses.map((a) => (
              <option key={a}>{a}</option>
            ))}
          </select>
        </label>
      )}
    </Entry>
  );
}
