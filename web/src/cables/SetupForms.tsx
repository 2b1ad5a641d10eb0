/** What the maker asks, and what the airframe is made of. */
import { useState } from "react";

import type { Cables } from "../app/api";
import { useWrite } from "../app/useWrite";
import { Choice, Fields, same } from "../kit/fields";
import { number, toMm } from "../kit/numbers";
import { Rows } from "../kit/Rows";
import type { CablesFile } from "./useCableTrial";
import { Entry } from "../kit/Entry";

/** Keep the file as changed here. */
export function useKeep(cables: Cables) {
  const { write, error, busy, pending } = useWrite();
  const keep = (edit: (file: CablesFile) => void, label: string) => {
    const document = structuredClone(cables.document) as CablesFile;
    edit(document);
    const body = { version: cables.version, document };
    return write(`controls/${cables.control}/cables`, body, label, "PUT");
  };
  return { keep, error, off: busy || pending };
}

export const text = (v: unknown): string => (typeof v === "string" ? v : "");
const MATERIALS = same(
  "aluminium alloy",
  "carbon or low-alloy steel",
  "austenitic corrosion-resistant steel",
  "wood along the grain, dry",
  "own figures",
);

const ASKED = [
  ["tension", "Tension", "30 lb"],
  ["at", "at", "21 C"],
  ["minus", "less at most", "3 lb"],
  ["plus", "more at most", "3 lb"],
  ["u", "known to ± (k = 1)", "0.5 lb"],
  ["source", "Document"],
  ["page", "Page"],
] as const;
const LENGTH = ["length", "Length, mm"] as const;
const OWN = [
  ["alpha", "Expansion, 1e-6 per K"],
  ["u", "± (k = 1)"],
] as const;

export function TargetForm({ cables, open }: { cables: Cables; open: boolean }) {
  const file = cables.document as CablesFile;
  const t = file.target ?? {};
  const { keep, error, off } = useKeep(cables);
  const [v, setV] = useState({
    tension: text(t.tension),
    at: text(t.at),
    minus: text(t.minus),
    plus: text(t.plus),
    u: text(t.u),
    source: text(t.source),
    page: text(t.page),
    same: t.same === true ? "yes" : "no",
  });
  const [mix, setMix] = useState(
    (file.airframe ?? []).map((s) => ({
      material: s.material,
      length: toMm(s.length),
      alpha: s.alpha === undefined ? "" : String(s.alpha * 1e6),
      u: s.u_alpha === undefined ? "" : String(s.u_alpha * 1e6),
    })),
  );
  const save = () =>
    keep((f) => {
      const { same: fixed, ...rest } = v;
      f.target = { ...f.target, ...rest, same: fixed === "yes" };
      f.airframe = mix
        .filter((m) => m.length.trim())
        .map((m) => ({
          material: m.material,
          length: number(m.length) / 1e3,
          ...(m.material === "own figures"
            ? { alpha: number(m.alpha) * 1e-6, u_alpha: number(m.u) * 1e-6 }
            : {}),
        }));
    }, "What the maker asks");
  return (
    <details open={open}>
      <summary>What the maker asks, and what the airframe is made of</summary>
      <Entry save={save} button="Keep" off={off} error={error}>
        <Fields of={ASKED} values={v} set={(x) => setV({ ...v, ...x })} />
        <Choice
          label="At other temperatures"
          value={v.same}
          set={(same) => setV({ ...v, same })}
          options={[
            { value: "no", word: "turned by the airframe's growth" },
            { value: "yes", word: "the maker says the same" },
          ]}
        />
        <Rows
          legend="The airframe along the run"
          add="Add a piece"
          rows={mix}
          set={setMix}
          empty={{ material: "aluminium alloy", length: "", alpha: "", u: "" }}
          row={(m, change, i) => (
            <>
              <Choice
                label={`Piece ${i + 1}`}
                value={m.material}
                set={(material) => change({ material })}
                options={MATERIALS}
              />
              <Fields
                of={m.material === "own figures" ? [LENGTH, ...OWN] : [LENGTH]}
                values={m}
                set={change}
              />
            </>
          )}
        />
        <p className="quiet form-name">
          Expansions: textbook values, confirm against the current edition. Laminates and brass
          depend on lay-up and alloy: enter your own. Moisture moves wood more than heat does.
        </p>
      </Entry>
    </details>
  );
}
