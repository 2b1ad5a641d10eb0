/** A surface: where it is, and what its readings rest on: chord, hinge line, included angle. */
import { useState } from "react";
import { useOutletContext } from "react-router";

import type { Sheet, Surface } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { useWrite } from "../app/useWrite";
import { Fields } from "../kit/fields";
import { Entry } from "../kit/Entry";
import { TakeAway } from "../kit/TakeAway";
import { SurfaceFields, type SurfaceRow } from "./SurfaceFields";
import { unless } from "../kit/unless";

const text = (value: number | null): string => (value ? String(Number(value.toFixed(6))) : "");

const FIELDS = [
  ["chord", "Hinge axis to trailing edge, mm", "not known"],
  ["u_chord", "Its standard uncertainty, mm", "0"],
  ["phi", "Line hinge to edge above neutral, °", "0"],
  ["u_phi", "Its standard uncertainty, °", "0"],
  ["sweep", "Hinge line swept aft, °", "not swept"],
  ["u_sweep", "Its standard uncertainty, °", "0"],
  ["dihedral", "Hinge line's dihedral, °", "0"],
  ["neutral_included", "Included angle at neutral, °", "not known"],
  ["u_neutral_included", "Its standard uncertainty, °", "0"],
] as const;

type Values = Record<(typeof FIELDS)[number][0], string>;

export function GeometryForm({ surface: s, alone }: { surface: Surface; alone: boolean }) {
  const { aircraft } = useOutletContext<FrameContext>();
  const { write, error, busy } = useWrite();
  const owner = aircraft.may.includes("change facts");
  const [row, setRow] = useState<SurfaceRow>({
    name: s.name,
    side: s.side,
    bay: s.bay,
    positive: s.positive,
  });
  const [values, setValues] = useState<Values>({
    chord: s.chord_typed || text(s.chord_mm),
    u_chord: text(s.u_chord_mm),
    phi: text(s.phi_deg),
    u_phi: text(s.u_phi_deg),
    sweep: text(s.sweep_deg),
    u_sweep: text(s.u_sweep_deg),
    dihedral: text(s.dihedral_deg),
    neutral_included: text(s.neutral_included_deg),
    u_neutral_included: text(s.u_neutral_included_deg),
  });
  const save = () => {
    const body = { version: s.version, ...values };
    const all = owner ? { ...body, ...row, positive: row.positive as Surface["positive"] } : body;
    return write(`surfaces/${s.slug}`, all, `geometry, ${s.name}`, "PATCH");
  };
  return (
    <>
      <Entry label={`Geometry, ${s.name}`} save={save} button="Keep" off={busy} error={error}>
        <strong className="form-name">{s.name}</strong>
        {owner && <SurfaceFields row={row} change={(part) => setRow((r) => ({ ...r, ...part }))} />}
        <Fields of={FIELDS} values={values} set={setValues} />
      </Entry>
      {owner && !alone && <TakeAway what={s.name} at={`surfaces/${s.slug}`} version={s.version} />}
    </>
  );
}

/** One more surface of the same control. */
export function NewSurface({ sheet }: { sheet: Sheet }) {
  const { write, error, busy } = useWrite();
  const positive = sheet.surfaces[0]?.positive ?? "trailing_edge_up";
  const empty: SurfaceRow = { name: "", side: "", bay: "", positive };
  const [row, setRow] = useState(empty);
  const add = async () => {
    if (await write(`controls/${sheet.slug}/surfaces`, row, `surface ${row.name}`))
      setRow(unless(row, empty));
  };
  return (
    <details>
      <summary>Add a surface</summary>
      <Entry label="New surface" save={add} button="Add" off={busy} error={error}>
        <SurfaceFields row={row} change={(part) => setRow({ ...row, ...part })} />
      </Entry>
    </details>
  );
}
