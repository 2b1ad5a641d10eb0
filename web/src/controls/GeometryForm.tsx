/** What a surface's readings rest on: chord, hinge line, included angle at neutral. */
import { useState } from "react";

import { api, got, type Surface } from "../app/api";
import { useRefresh } from "../app/queries";
import { limit } from "../marks/words";
import { TextField } from "../marks/fields";
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

export function GeometryForm({ slug, surface: s }: { slug: string; surface: Surface }) {
  const refresh = useRefresh(slug);
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
  const [error, setError] = useState<unknown>(null);
  const save = async () => {
    try {
      await got(
        api.PATCH("/api/aircraft/{slug}/surfaces/{surface}", {
          params: { path: { slug, surface: s.slug } },
          body: { version: s.version, ...values },
        }),
      );
      setError(null);
    } catch (e) {
      setError(e);
    }
    await refresh();
  };
  return (
    <Entry label={`Geometry, ${s.name}`} save={save} button="Keep" error={error}>
      <strong className="form-name">{s.name}</strong>
      {FIELDS.map(([field, label, hint]) => (
        <TextField
          key={field}
          label={label}
          hint={hint}
          value={values[field]}
          set={(value) => setValues({ ...values, [field]: value })}
        />
      ))}
    </Entry>
  );
}
