/** What a surface's readings rest on: chord, hinge line, included angle at neutral. */
import { useState } from "react";

import type { Surface } from "../app/api";
import { useWrite } from "../app/useWrite";
import { limit } from "../marks/words";
import { Fields } from "../kit/fields";
import { Entry } from "../kit/Entry";

const text = (value: number | null): string => (value ? limit(value, "").replace("−", "-") : "");

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

export function GeometryForm({ surface: s }: { surface: Surface }) {
  const { write, error, busy } = useWrite();
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
  const save = () =>
    write(`surfaces/${s.slug}`, { version: s.version, ...values }, `geometry, ${s.name}`, "PATCH");
  return (
    <Entry label={`Geometry, ${s.name}`} save={save} button="Keep" off={busy} error={error}>
      <strong className="form-name">{s.name}</strong>
      <Fields of={FIELDS} values={values} set={setValues} />
    </Entry>
  );
}
