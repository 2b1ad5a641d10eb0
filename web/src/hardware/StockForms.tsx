/** A stock item and a tin as typed: new ones, and corrected ones. */
import { useState } from "react";

import type { StockItem, Tin } from "../app/api";
import { useWrite } from "../app/useWrite";
import { Entry } from "../kit/Entry";
import { Choice, same, TextField, Tick } from "../kit/fields";
import { unless } from "../kit/unless";

const EMPTY = {
  name: "",
  thread: "",
  grip: "",
  length: "",
  threads_per_inch: "",
  pitch: "",
  hole_from_head: "",
  height: "",
  counterbore: "",
  slot_depth: "",
  pin_diameter: "",
  thickness: "",
};
type Field = keyof typeof EMPTY;
const NUTS = ["self_locking", "castellated", "nutplate", "plain"] as const;

/** What was typed of a kept item, every field that is text. */
function typed(one: StockItem): typeof EMPTY {
  const kept = Object.entries(one.typed).filter(([key]) => key in EMPTY);
  return { ...EMPTY, ...Object.fromEntries(kept), name: one.name, thread: one.thread };
}

export function StockForm({ one, done }: { one?: StockItem; done?: () => void }) {
  const { write, error, busy } = useWrite();
  const [kind, setKind] = useState(one?.kind ?? "bolt");
  const [nut, setNut] = useState(String(one?.typed.nut_kind ?? ""));
  const [drilled, setDrilled] = useState(Boolean(one?.typed.drilled));
  const [wire, setWire] = useState(Boolean(one?.typed.head_drilled));
  const [v, setV] = useState(one ? typed(one) : EMPTY);
  const field = (key: Field, label: string, hint = "") => (
    <TextField label={label} value={v[key]} hint={hint} set={(x) => setV({ ...v, [key]: x })} />
  );
  const keep = async () => {
    const body = {
      ...v,
      kind: kind as "bolt",
      nut_kind: nut as "plain",
      drilled,
      head_drilled: wire,
    };
    const kept = one
      ? await write(`stock/${one.id}`, { ...body, version: one.version }, v.name, "PATCH")
      : await write("stock", body, `stock ${v.name}`);
    if (!kept) return;
    if (!one) setV(unless(v, EMPTY));
    done?.();
  };
  return (
    <Entry
      label={one ? `Change ${one.name}` : "Add to stock"}
      save={keep}
      button={one ? "Keep" : "Add"}
      variant="outline-primary"
      off={busy}
      error={error}
    >
      {!one && (
        <Choice label="Kind" value={kind} set={setKind} options={same("bolt", "nut", "washer")} />
      )}
      {field("name", "Name")}
      {field("thread", "Thread", "1/4-28")}
      {kind === "bolt" && (
        <>
          {field("grip", "Grip", "12.7 mm")}
          {field("length", "Length", "23.8 mm")}
          {field("threads_per_inch", "Threads per inch", "28")}
          {field("pitch", "Or the pitch", "1 mm")}
          <Tick label="Drilled for a pin" value={drilled} set={setDrilled} />
          <Tick label="Head drilled for wire" value={wire} set={setWire} />
          {drilled && field("hole_from_head", "Hole from the head", "19.5 mm")}
        </>
      )}
      {kind === "nut" && (
        <>
          <Choice
            label="Kind of nut"
            value={nut}
            set={setNut}
            options={[{ value: "", word: "choose" }, ...same(...NUTS)]}
          />
          {field("height", "Height", "7.2 mm")}
          {field("counterbore", "Counterbore", "0 mm")}
          {nut === "castellated" && field("slot_depth", "Slot depth", "2.6 mm")}
          {nut === "castellated" && field("pin_diameter", "Pin", "1.6 mm")}
        </>
      )}
      {kind === "washer" && field("thickness", "Thickness", "0.8 mm")}
    </Entry>
  );
}

const NO_TIN = { name: "", batch: "", expiry_on: "", opened_on: "", life: "" };

export function CompoundForm({ one, done }: { one?: Tin; done?: () => void }) {
  const { write, error, busy } = useWrite();
  const [v, setV] = useState(one ? { ...one, life: String(one.life_open_days ?? "") } : NO_TIN);
  const keep = async () => {
    const body = {
      name: v.name,
      batch: v.batch,
      expiry_on: v.expiry_on,
      opened_on: v.opened_on || null,
      life_open_days: v.life ? Number(v.life) : null,
    };
    const kept = one
      ? await write(`compounds/${one.id}`, { ...body, version: one.version }, v.name, "PATCH")
      : await write("compounds", body, `compound ${v.name}`);
    if (!kept) return;
    if (!one) setV(unless(v, NO_TIN));
    done?.();
  };
  const field = (key: keyof typeof NO_TIN, label: string, type = "text") => (
    <TextField label={label} type={type} value={v[key]} set={(x) => setV({ ...v, [key]: x })} />
  );
  return (
    <Entry
      label={one ? `Change ${one.name}` : "Add a compound"}
      save={keep}
      button={one ? "Keep" : "Add"}
      variant="outline-primary"
      off={busy}
      error={error}
    >
      {field("name", "Name")}
      {field("batch", "Batch")}
      {field("expiry_on", "Printed date, last day", "date")}
      {field("opened_on", "Opened on", "date")}
      {field("life", "Days it keeps once opened")}
    </Entry>
  );
}
