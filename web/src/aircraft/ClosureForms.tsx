/** What closes the bays: kind, bays, planned day, and what is asked before closing. */
import Button from "react-bootstrap/Button";
import { useState } from "react";

import type { Aircraft, Closure } from "../app/api";
import { useWrite } from "../app/useWrite";
import { Choice, TextField, Tick } from "../kit/fields";
import { Entry } from "../kit/Entry";
import { TakeAway } from "../kit/TakeAway";
import { BayTicks } from "./BayTicks";

const NEW = {
  slug: "",
  version: 0,
  name: "",
  permanent: false,
  above: true,
  bays: [] as string[],
  planned_on: "",
  inspection_needed: false,
  photo_needed: false,
};

export function ClosureForms({ aircraft }: { aircraft: Aircraft }) {
  const [slug, setSlug] = useState("");
  const chosen = aircraft.closures.find((c) => c.slug === slug);
  return (
    <details>
      <summary>Closures: {aircraft.closures.length}</summary>
      <Choice
        label="Closure"
        value={slug}
        set={setSlug}
        options={[
          { value: "", word: "a new one" },
          ...aircraft.closures.map((c) => ({ value: c.slug, word: c.name })),
        ]}
      />
      <ClosureForm
        key={`${slug}.${chosen?.version ?? aircraft.closures.length}`}
        aircraft={aircraft}
        closure={chosen}
      />
      {chosen && (
        <TakeAway
          key={`away ${slug}`}
          what={chosen.name}
          at={`closures/${slug}`}
          version={chosen.version}
          hint="Only one that was never closed can go; its openings go with it."
          done={() => setSlug("")}
        />
      )}
    </details>
  );
}

function ClosureForm({ aircraft, closure }: { aircraft: Aircraft; closure: Closure | undefined }) {
  const { write, error, busy } = useWrite();
  const [v, setV] = useState({ ...NEW, ...closure });
  const keep = () => {
    const body = {
      version: v.version,
      name: v.name,
      permanent: v.permanent,
      above: v.above,
      bays: v.bays,
      planned_on: v.planned_on || null,
      inspection_needed: v.inspection_needed,
      photo_needed: v.photo_needed,
    };
    return closure
      ? write(`closures/${closure.slug}/edit`, body, `closure ${v.name}`, "PATCH")
      : write("closures", body, `closure ${v.name}`);
  };
  return (
    <Entry label="Closure" save={keep} className="" error={error}>
      <div className="pairs">
        <TextField label="Name" value={v.name} set={(name) => setV({ ...v, name })} />
        <TextField
          label="Planned on"
          type="date"
          value={v.planned_on}
          set={(planned_on) => setV({ ...v, planned_on })}
        />
      </div>
      <BayTicks
        legend="Bays that it opens"
        bays={aircraft.bays}
        value={v.bays}
        set={(bays) => setV({ ...v, bays })}
      />
      <Tick
        label="Permanent: riveted, bonded or covered"
        value={v.permanent}
        set={(permanent) => setV({ ...v, permanent })}
      />
      <Tick label="On the upper side" value={v.above} set={(above) => setV({ ...v, above })} />
      <Tick
        label="An inspection of its bays is asked for before it closes"
        value={v.inspection_needed}
        set={(x) => setV({ ...v, inspection_needed: x })}
      />
      <Tick
        label="A photo is asked for before it closes"
        value={v.photo_needed}
        set={(x) => setV({ ...v, photo_needed: x })}
      />
      <div className="buttons">
        <Button type="submit" disabled={busy}>
          {closure ? "Keep closure" : "Add closure"}
        </Button>
      </div>
    </Entry>
  );
}
