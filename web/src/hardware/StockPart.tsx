/** Bolts, nuts and washers in stock, and compounds with their dates. */
import { useState } from "react";
import { useOutletContext } from "react-router";

import type { FrameContext } from "../app/Frame";
import { useStock } from "../app/queries";
import { useWrite } from "../app/useWrite";
import { Choice, same, TextField, Tick } from "../kit/fields";
import { Waiting } from "../marks/Said";
import { VerdictMark } from "../marks/VerdictMark";
import { Entry } from "../kit/Entry";

const mm = (m: unknown) => (typeof m === "number" ? (m * 1000).toFixed(1) : "");

export function StockPart() {
  const { aircraft } = useOutletContext<FrameContext>();
  const stock = useStock(aircraft.slug);
  if (!stock.data) return <Waiting error={stock.error} />;
  const may = aircraft.may.includes("measure");
  return (
    <>
      <h2>In stock</h2>
      {stock.data.count === 0 && (
        <p>Nothing yet. Measure the bolts, nuts and washers in the drawers and enter them here.</p>
      )}
      <ul className="happened">
        {stock.data.results.map((s) => (
          <li key={s.id}>
            <strong>{s.name}</strong> {s.kind} {s.thread && `${s.thread} `}
            <span className="num">
              {s.kind === "bolt" &&
                `grip ${mm(s.data.grip_m)}, length ${mm(s.data.length_m)} mm${s.data.drilled ? ", drilled" : ""}`}
              {s.kind === "nut" && `height ${mm(s.data.height_m)} mm`}
              {s.kind === "washer" && `${mm(s.data.thickness_m)} mm`}
            </span>
          </li>
        ))}
      </ul>
      {may && <NewItem />}
      <h2>Compounds</h2>
      <ul className="happened">
        {stock.data.compounds.map((c) => (
          <li key={c.id}>
            <VerdictMark verdict={c.decision === "use" ? "in" : "out"} /> <strong>{c.name}</strong>{" "}
            {c.batch && `batch ${c.batch}, `}
            use before {c.use_before}
            {c.decision !== "use" && ` (${c.decision})`}
          </li>
        ))}
      </ul>
      {may && <NewCompound />}
    </>
  );
}

const EMPTY = {
  name: "",
  thread: "",
  grip: "",
  length: "",
  threads_per_inch: "",
  hole_from_head: "",
  height: "",
  slot_depth: "",
  pin_diameter: "",
  thickness: "",
};

function NewItem() {
  const { write, error, busy } = useWrite();
  const [kind, setKind] = useState("bolt");
  const [nut, setNut] = useState("self_locking");
  const [drilled, setDrilled] = useState(false);
  const [wire, setWire] = useState(false);
  const [v, setV] = useState(EMPTY);
  const field = (key: keyof typeof v, label: string, hint = "") => (
    <TextField label={label} value={v[key]} hint={hint} set={(x) => setV({ ...v, [key]: x })} />
  );
  const add = async () => {
    const body = { ...v, kind, nut_kind: nut, drilled, head_drilled: wire };
    if (await write("stock", body, `stock ${v.name}`)) setV(EMPTY);
  };
  return (
    <details>
      <summary>Add to stock</summary>
      <Entry
        label="Add to stock"
        save={add}
        button="Add"
        variant="outline-primary"
        off={busy}
        error={error}
      >
        <Choice label="Kind" value={kind} set={setKind} options={same("bolt", "nut", "washer")} />
        {field("name", "Name")}
        {field("thread", "Thread", "1/4-28")}
        {kind === "bolt" && (
          <>
            {field("grip", "Grip", "12.7 mm")}
            {field("length", "Length", "23.8 mm")}
            {field("threads_per_inch", "Threads per inch", "28")}
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
              options={same("self_locking", "castellated", "nutplate", "plain")}
            />
            {field("height", "Height", "7.2 mm")}
            {nut === "castellated" && field("slot_depth", "Slot depth", "2.6 mm")}
            {nut === "castellated" && field("pin_diameter", "Pin", "1.6 mm")}
          </>
        )}
        {kind === "washer" && field("thickness", "Thickness", "0.8 mm")}
      </Entry>
    </details>
  );
}

function NewCompound() {
  const { write, error, busy } = useWrite();
  const [v, setV] = useState({ name: "", batch: "", expiry_on: "", opened_on: "", life: "" });
  const add = async () => {
    const body = {
      name: v.name,
      batch: v.batch,
      expiry_on: v.expiry_on,
      opened_on: v.opened_on || null,
      life_open_days: v.life ? Number(v.life) : null,
    };
    if (await write("compounds", body, `compound ${v.name}`))
      setV({ name: "", batch: "", expiry_on: "", opened_on: "", life: "" });
  };
  const field = (key: keyof typeof v, label: string, type = "text") => (
    <TextField label={label} type={type} value={v[key]} set={(x) => setV({ ...v, [key]: x })} />
  );
  return (
    <details>
      <summary>Add a compound</summary>
      <Entry
        label="Add a compound"
        save={add}
        button="Add"
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
    </details>
  );
}
