/** What a surface's readings rest on: chord, sweep, included angle at neutral. */
import Button from "react-bootstrap/Button";
import { useState } from "react";

import { api, got, type Surface } from "../app/api";
import { useRefresh } from "../app/queries";
import { Said } from "../marks/Said";
import { limit } from "../marks/words";
import { TextField } from "./fields";

const text = (value: number | null): string =>
  value === null ? "" : limit(value, "").replace("−", "-");

export function GeometryForm({ slug, surface }: { slug: string; surface: Surface }) {
  const refresh = useRefresh(slug);
  const [chord, setChord] = useState(surface.chord_typed || text(surface.chord_mm));
  const [uChord, setUChord] = useState(text(surface.u_chord_mm));
  const [sweep, setSweep] = useState(text(surface.sweep_deg));
  const [included, setIncluded] = useState(text(surface.neutral_included_deg));
  const [error, setError] = useState<unknown>(null);
  const save = async () => {
    try {
      await got(
        api.PATCH("/api/aircraft/{slug}/surfaces/{surface}", {
          params: { path: { slug, surface: surface.slug } },
          body: {
            version: surface.version,
            chord,
            u_chord: uChord,
            sweep,
            neutral_included: included,
          },
        }),
      );
      setError(null);
    } catch (e) {
      setError(e);
    }
    await refresh();
  };
  return (
    <form
      className="inline-form"
      aria-label={`Geometry, ${surface.name}`}
      onSubmit={(e) => {
        e.preventDefault();
        void save();
      }}
    >
      <strong className="form-name">{surface.name}</strong>
      <TextField label="Hinge axis to trailing edge, mm" value={chord} set={setChord} />
      <TextField label="Its standard uncertainty, mm" value={uChord} set={setUChord} />
      <TextField label="Hinge line swept aft, °" value={sweep} set={setSweep} hint="not swept" />
      <TextField
        label="Included angle at neutral, °"
        value={included}
        set={setIncluded}
        hint="not known"
      />
      <Button type="submit">Keep</Button>
      <Said error={error} />
    </form>
  );
}
