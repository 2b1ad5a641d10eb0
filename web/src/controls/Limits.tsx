/** What a document asks: a figure with its tolerances, two limits, or a figure alone. */
import { Choice, Fields, TextField } from "../kit/fields";

export type Kind = "travel" | "neutral" | "symmetry" | "ratio" | "repeatability";
export type Way = "tolerance" | "range" | "none";
export type LimitValues = {
  way: Way;
  nominal: string;
  plus: string;
  minus: string;
  lo: string;
  hi: string;
};

export const EMPTY: LimitValues = {
  way: "tolerance",
  nominal: "",
  plus: "",
  minus: "",
  lo: "",
  hi: "",
};

/** Two things compared: how far they may differ, and nothing else. */
export const isDifference = (kind: Kind): boolean =>
  kind === "symmetry" || kind === "repeatability";

/** Limits as they stand, to be changed: to the last digit that a figure here has. */
export function limitsOf(q: {
  kind: Kind;
  lo: number | null;
  hi: number | null;
  no_tolerance: boolean;
}): LimitValues {
  const text = (v: number | null) => (v === null ? "" : String(Number(v.toFixed(6))));
  if (q.no_tolerance) return { ...EMPTY, way: "none", nominal: text(q.lo) };
  return { ...EMPTY, way: "range", lo: isDifference(q.kind) ? "" : text(q.lo), hi: text(q.hi) };
}

/** As it is sent: only what belongs to the chosen way. */
export function sent(v: LimitValues, kind: Kind) {
  const nothing = { nominal: "", plus: "", minus: "", lo: "", hi: "", no_tolerance: false };
  if (isDifference(kind)) return { ...nothing, hi: v.hi };
  if (v.way === "range") return { ...nothing, lo: v.lo, hi: v.hi };
  if (v.way === "none") return { ...nothing, nominal: v.nominal, no_tolerance: true };
  return { ...nothing, nominal: v.nominal, plus: v.plus, minus: v.minus };
}

const WAYS = [
  { value: "tolerance", word: "a figure, plus and minus" },
  { value: "range", word: "from … to …" },
  { value: "none", word: "a figure, no tolerance given" },
];

export function LimitFields(p: {
  kind: Kind;
  values: LimitValues;
  set: (values: LimitValues) => void;
}) {
  const { values: v, set } = p;
  const unit = p.kind === "ratio" ? "" : ", °";
  if (isDifference(p.kind))
    return (
      <TextField
        label={`They may differ by at most${unit}`}
        hint="0.5"
        value={v.hi}
        set={(hi) => set({ ...v, hi })}
      />
    );
  const example = p.kind === "ratio" ? ["1.5", "0.2", "0.2"] : ["26", "2", "1"];
  const fields = {
    tolerance: [
      ["nominal", `Asked${unit}`, example[0]],
      ["plus", `Plus${unit}`, example[1]],
      ["minus", `Minus${unit}`, example[2]],
    ],
    range: [
      ["lo", `Low${unit}`, "open"],
      ["hi", `High${unit}`, "open"],
    ],
    none: [["nominal", `Asked${unit}`, example[0]]],
  } as const;
  return (
    <>
      <Choice
        label="The document gives"
        value={v.way}
        set={(way) => set({ ...v, way: way as Way })}
        options={WAYS}
      />
      <Fields
        of={
          fields[v.way] as readonly (readonly [
            "nominal" | "plus" | "minus" | "lo" | "hi",
            string,
            string?,
          ])[]
        }
        values={v}
        set={(x) => set({ ...v, ...x })}
      />
    </>
  );
}
