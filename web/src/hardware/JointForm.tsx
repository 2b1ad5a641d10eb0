/** What a joint needs, as typed: where, stack, bolt, torque with its document, how it is secured. */
import Button from "react-bootstrap/Button";
import { useState } from "react";
import { useOutletContext } from "react-router";

import type { Joint } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { useControls, useSources, useStock } from "../app/queries";
import { useWrite } from "../app/useWrite";
import { useBay } from "../aircraft/useBay";
import { Choice, type Option, TextField, Tick } from "../kit/fields";
import { Entry } from "../kit/Entry";

const NONE: Option = { value: "", word: "none" };

export function JointForm({ joint, done }: { joint?: Joint; done: (slug: string) => void }) {
  const { aircraft } = useOutletContext<FrameContext>();
  const [bay] = useBay();
  const stock = useStock(aircraft.slug);
  const sources = useSources(aircraft.slug);
  const controls = useControls(aircraft.slug);
  const { write, error, busy } = useWrite();
  const [warnings, setWarnings] = useState<string[]>([]);
  const [v, setV] = useState(() => begin(joint, bay));
  const set = (key: keyof typeof v) => (x: string) => setV({ ...v, [key]: x });
  const text = (key: keyof typeof v, label: string, hint = "") => (
    <TextField label={label} value={String(v[key])} hint={hint} set={set(key)} />
  );
  const tick = (key: keyof typeof v, label: string) => (
    <Tick label={label} value={Boolean(v[key])} set={(x) => setV({ ...v, [key]: x })} />
  );
  const pick = (key: keyof typeof v, label: string, options: Option[]) => (
    <Choice label={label} value={String(v[key])} set={set(key)} options={options} />
  );
  const stocked = (kind: string): Option[] => [
    NONE,
    ...(stock.data?.results ?? [])
      .filter((s) => s.kind === kind)
      .map((s) => ({ value: String(s.id), word: s.name })),
  ];
  const keep = async () => {
    const path = joint ? (`joints/${joint.slug}` as const) : "joints";
    const method = joint ? "PATCH" : "POST";
    // Before the documents are there, the one that is named would be lost.
    if (!sources.data) return;
    const answer = await write(path, body(v, joint, sources.data.results), v.name, method);
    if (!answer) return;
    const kept = answer as Joint;
    setWarnings(kept.warnings);
    if (kept.warnings.length === 0) done(kept.slug);
  };
  return (
    <Entry
      label={joint ? "Change joint" : "New joint"}
      save={keep}
      className="joint-form"
      error={error}
    >
      <h2>{joint ? `Change ${joint.name}` : "New joint"}</h2>
      {text("name", "Name", "Elevator bellcrank bolt")}
      {text("part", "What it holds")}
      {pick("bay", "Bay", [
        { value: "", word: "by its place" },
        ...aircraft.bays.map((b) => ({ value: b.slug, word: b.name })),
      ])}
      <div className="three">
        {text("station", "Station")}
        {text("butt_line", "Butt line")}
        {text("water_line", "Water line")}
      </div>
      {pick("control", "Belongs to", [
        NONE,
        ...(controls.data?.results ?? []).map((c) => ({ value: c.slug, word: c.name })),
      ])}
      {text("layers", "Layers clamped: name thickness; …", "lug 3.2 mm; bushing 6.1 mm")}
      <div className="three">
        {pick("bolt", "Bolt", stocked("bolt"))}
        {pick("nut", "Nut", stocked("nut"))}
        {text("nut_washers", "Washers under the nut", "1.6; 0.8")}
      </div>
      {text("head_washers", "Washers under the head")}
      {text("torque", "Torque range", "50 to 70 in-lb")}
      <div className="three">
        {pick("torque_source", "Its document", [
          NONE,
          ...(sources.data?.results ?? []).map((s) => ({ value: s.cited, word: s.cited })),
        ])}
        {text("torque_page", "Page")}
        {text("drag", "Drag of the nut", "0.9 Nm")}
      </div>
      {pick("device", "Secured by", [
        { value: "", word: "not said yet" },
        { value: "cotter", word: "castellated nut and cotter pin" },
        { value: "self_locking", word: "self-locking nut" },
        { value: "wire", word: "safety wire" },
        { value: "tab", word: "tab washer" },
        { value: "adhesive", word: "threadlocker" },
        { value: "none", word: "nothing" },
      ])}
      {tick("rotating", "The bolt is a pivot")}
      {tick("loss_prevents_safe_flight", "Losing it ends the flight")}
      {tick("witness_needed", "Needs a witness mark")}
      {tick("photo_needed", "Needs a picture of its witness mark")}
      {tick("needs_access", "Must be reached later")}
      <details open={v.fit_hole !== ""}>
        <summary>A fit: does it turn or clamp?</summary>
        {pick("fit_need", "It must", [
          { value: "turn", word: "turn" },
          { value: "slip", word: "slide" },
          { value: "press", word: "clamp (pressed in)" },
        ])}
        {text("fit_hole", "Hole, several places", "12.700 mm; 12.705 mm")}
        {text("fit_shaft", "Shaft or bushing", "12.670 mm; 12.672 mm")}
        <div className="three">
          {text("fit_u", "Uncertainty of the hole", "0.002 mm")}
          {text("fit_u_shaft", "Uncertainty of the shaft", "0.002 mm")}
          {text("fit_min", "Least clearance", "0.013 mm")}
          {text("fit_max", "Greatest clearance", "0.060 mm")}
        </div>
      </details>
      <details open={v.metal_a !== ""}>
        <summary>Two metals that touch</summary>
        {text("metal_a", "One", "aluminium, other wrought")}
        {text("metal_b", "The other", "stainless 18 % chromium")}
        {pick(
          "remedy",
          "Between them",
          ["none", "wet sealant", "wet primer", "barrier"].map((w) => ({ value: w, word: w })),
        )}
      </details>
      <div className="buttons">
        <Button type="submit" disabled={busy || !sources.data}>
          Keep
        </Button>
        <Button variant="outline-primary" onClick={() => done(joint?.slug ?? "")}>
          {warnings.length > 0 ? "Done" : "Leave"}
        </Button>
      </div>
      {warnings.map((w) => (
        <p key={w} className="caution">
          Kept. {w}
        </p>
      ))}
    </Entry>
  );
}

const typed = (values: number[]) => values.map((x) => `${round(x)} mm`).join("; ");
const round = (x: number) => String(Math.round(x * 1000) / 1000);

function begin(joint: Joint | undefined, bay: string | null) {
  const fit = (joint?.fit?.typed ?? {}) as Record<string, string>;
  const metals = (joint?.metals ?? {}) as Record<string, string>;
  const at = joint?.point_mm?.map((x) => `${round(x)} mm`) ?? ["", "", ""];
  return {
    name: joint?.name ?? "",
    part: joint?.part ?? "",
    bay: joint?.bay ?? bay ?? "",
    station: at[0] ?? "",
    butt_line: at[1] ?? "",
    water_line: at[2] ?? "",
    control: joint?.control ?? "",
    layers: (joint?.stack ?? []).map((s) => `${String(s.name)} ${String(s.typed)}`).join("; "),
    bolt: joint?.bolt ? String(joint.bolt) : "",
    nut: joint?.nut ? String(joint.nut) : "",
    head_washers: typed(joint?.head_washers_mm ?? []),
    nut_washers: typed(joint?.nut_washers_mm ?? []),
    torque: joint?.torque_typed ?? "",
    torque_source: joint?.torque_source ?? "",
    torque_page: joint?.torque_page ?? "",
    drag: joint?.drag_nm ? `${joint.drag_nm} Nm` : "",
    device: joint?.device ?? "",
    rotating: joint?.rotating ?? false,
    loss_prevents_safe_flight: joint?.loss_prevents_safe_flight ?? false,
    witness_needed: joint?.witness_needed ?? false,
    photo_needed: joint?.photo_needed ?? false,
    needs_access: joint?.needs_access ?? false,
    fit_need: fit.need ?? "turn",
    fit_hole: fit.hole ?? "",
    fit_shaft: fit.shaft ?? "",
    fit_u: fit.u_hole ?? "",
    fit_u_shaft: fit.u_shaft ?? "",
    fit_min: fit.clear_min ?? "",
    fit_max: fit.clear_max ?? "",
    metal_a: metals.a ?? "",
    metal_b: metals.b ?? "",
    remedy: metals.remedy ?? "none",
  };
}

type Form = ReturnType<typeof begin>;

/** As the server takes it; what this form does not show is sent back as it was. */
function body(typed: Form, joint: Joint | undefined, sources: { id: number; cited: string }[]) {
  const { fit_need, fit_hole, fit_shaft, fit_u, fit_u_shaft, fit_min, fit_max, ...others } = typed;
  const { metal_a, metal_b, remedy, ...v } = others;
  const fit = {
    need: fit_need,
    hole: fit_hole,
    shaft: fit_shaft,
    u_hole: fit_u,
    u_shaft: fit_u_shaft,
    clear_min: fit_min,
    clear_max: fit_max,
  };
  const metals = { ...joint?.metals, a: metal_a, b: metal_b, remedy };
  return {
    ...joint?.kept,
    ...v,
    version: joint?.version ?? 0,
    bolt: v.bolt ? Number(v.bolt) : null,
    nut: v.nut ? Number(v.nut) : null,
    torque_source: sources.find((s) => s.cited === v.torque_source)?.id ?? null,
    insert: joint?.insert ?? "none",
    turned: joint?.turned ?? "nut",
    metals: metal_a || metal_b ? metals : null,
    fit: fit_hole || fit_shaft ? fit : null,
  };
}
