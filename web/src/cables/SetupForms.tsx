/** What the maker asks, and what the airframe is made of. */
import { useState } from "react";

import type { Cables } from "../app/api";
import { useWrite } from "../app/useWrite";
import { Choice, same, TextField } from "../marks/fields";
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
      length: String(Number((s.length * 1e3).toFixed(3))),
      alpha: s.alpha === undefined ? "" : String(s.alpha * 1e6),
      u: s.u_alpha === undefined ? "" : String(s.u_alpha * 1e6),
    })),
  );
  const set = (key: keyof typeof v) => (value: string) => setV({ ...v, [key]: value });
  const number = (s: string): number => Number(s.replace(",", "."));
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
        <TextField label="Tension" value={v.tension} set={set("tension")} hint="30 lb" />
        <TextField label="at" value={v.at} set={set("at")} hint="21 C" />
        <TextField label="less at most" value={v.minus} set={set("minus")} hint="3 lb" />
        <TextField label="more at most" value={v.plus} set={set("plus")} hint="3 lb" />
        <TextField label="known to ± (k = 1)" value={v.u} set={set("u")} hint="0.5 lb" />
        <TextField label="Document" value={v.source} set={set("source")} />
        <TextField label="Page" value={v.page} set={set("page")} />
        <Choice
          label="At other temperatures"
          value={v.same}
          set={set("same")}
          options={[
            { value: "no", word: "turned by the airframe's growth" },
            { value: "yes", word: "the maker says the same" },
          ]}
        />
        <fieldset className="form-name">
          <legend>The airframe along the run</legend>
          {mix.map((m, i) => (
            <div key={i} className="inline-form">
              <Choice
                label={`Piece ${i + 1}`}
                value={m.material}
                set={(material) => setMix(mix.map((x, k) => (k === i ? { ...x, material } : x)))}
                options={MATERIALS}
              />
              <TextField
                label="Length, mm"
                value={m.length}
                set={(length) => setMix(mix.map((x, k) => (k === i ? { ...x, length } : x)))}
              />
              {m.material === "own figures" && (
                <>
                  <TextField
                    label="Expansion, 1e-6 per K"
                    value={m.alpha}
                    set={(alpha) => setMix(mix.map((x, k) => (k === i ? { ...x, alpha } : x)))}
                  />
                  <TextField
                    label="± (k = 1)"
                    value={m.u}
                    set={(u) => setMix(mix.map((x, k) => (k === i ? { ...x, u } : x)))}
                  />
                </>
              )}
              <button
                type="button"
                className="plain"
                onClick={() => setMix(mix.filter((_, k) => k !== i))}
              >
                Take out
              </button>
            </div>
          ))}
          <button
            type="button"
            className="plain"
            onClick={() =>
              setMix([...mix, { material: "aluminium alloy", length: "", alpha: "", u: "" }])
            }
          >
            Add a piece
          </button>
        </fieldset>
        <p className="quiet form-name">
          Expansions: textbook values, confirm against the current edition. Laminates and brass
          depend on lay-up and alloy: enter your own. Moisture moves wood more than heat does.
        </p>
      </Entry>
    </details>
  );
}
