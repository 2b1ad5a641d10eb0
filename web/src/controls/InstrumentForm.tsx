/** The aircraft's instruments: what they are good for, a new one, or one renewed. */
import { useState } from "react";
import { useOutletContext } from "react-router";

import type { Instrument } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { useInstruments } from "../app/queries";
import { useWrite } from "../app/useWrite";
import { TextField, Choice } from "../kit/fields";
import { Entry } from "../kit/Entry";
import { TakeAway } from "../kit/TakeAway";
import { unless } from "../kit/unless";

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
  pressure: ["10 Pa", "1 Pa"],
  resistance: ["2 mohm", "0.1 mohm"],
  current: ["0.05 A", "0.01 A"],
  signal: ["2", "1"],
  mass: ["0.1 kg", "0.05 kg"],
};
const LIVE: Instrument["kind"][] = [
  ...(["angle", "tension", "temperature", "pressure"] as const),
  ...(["resistance", "current", "signal", "mass"] as const),
];

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
                  one={i}
                  addresses={addresses}
                  onDone={() => setOpen(null)}
                />
                <TakeAway
                  what={i.name}
                  at={`instruments/${i.id}`}
                  version={i.version}
                  hint="What was read with it stays: then it stays too, and its date says enough."
                />
              </div>
            )}
          </li>
        ))}
      </ul>
      {may && <OneForm addresses={addresses} />}
    </>
  );
}

function calibration(i: Instrument): string {
  if (!i.calibration_due) return "no calibration date";
  return `calibration ${i.overdue ? "was due" : "good to"} ${i.calibration_due}`;
}

type OneProps = { one?: Instrument; addresses: string[]; onDone?: () => void };

function OneForm({ one, addresses, onDone }: OneProps) {
  const { write, error, busy } = useWrite();
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
  const save = async () => {
    const { due, ...rest } = v;
    const body = {
      ...rest,
      face: v.kind === "angle" ? v.face : ("" as const),
      calibrated_on: one?.calibrated_on || null,
      calibration_due: due || null,
    };
    const kept = one
      ? await write(`instruments/${one.id}`, { ...body, version: one.version }, v.name, "PATCH")
      : await write("instruments", body, v.name);
    if (!kept) return;
    if (!one) setV(unless(v, start));
    onDone?.();
  };
  const angle = v.kind === "angle";
  return (
    <Entry
      label={one ? `Change ${one.name}` : "New instrument"}
      save={save}
      button={one ? "Keep" : "Add"}
      off={busy}
      error={error}
    >
      <TextField label="Name" value={v.name} set={(name) => setV({ ...v, name })} />
      {!one && (
        <Choice
          label="Measures"
          value={v.kind}
          set={(x) => setV({ ...v, kind: x as "angle" })}
          options={[
            { value: "angle", word: "angles" },
            { value: "length", word: "lengths" },
            { value: "torque", word: "torque" },
            { value: "tension", word: "cable tension, in divisions" },
            { value: "temperature", word: "temperature" },
            { value: "pressure", word: "pressure" },
            { value: "resistance", word: "resistance" },
            { value: "current", word: "current" },
            { value: "signal", word: "a device’s own signal, in its unit" },
            { value: "mass", word: "masses: a scale" },
          ]}
        />
      )}
      {angle && (
        <Choice
          label="Its face shows"
          value={v.face}
          set={(x) => setV({ ...v, face: x as typeof v.face })}
          options={FACES.map(([value, word]) => ({ value: value, word: word }))}
        />
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
