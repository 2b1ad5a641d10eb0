/** A field of a declared form as it is asked: text, a choice, a day, a table; and its limits. */
import type { SheetField, SheetsPage } from "../app/api";
import { Choice, TextField } from "../kit/fields";
import { choicesOf, type Row, TableField } from "../kit/TableField";

export type Typed = Record<string, string | Row[]>;
export type Things = SheetsPage["things"];

/** What is a limit on this form: whole fields, and columns of tables; `of`: as it is said now. */
export const limitsOf = (fields: SheetField[]) =>
  fields.flatMap((f) =>
    f.limit
      ? [{ label: f.label, of: (v: Typed) => (filled(v[f.key]) ? JSON.stringify(v[f.key]) : "") }]
      : f.columns
          .filter((c) => c.limit)
          .map((c) => ({
            label: `${c.label} in “${f.label}”`,
            of: (v: Typed) => rowsOf(v[f.key], f.columns[0]?.key ?? "", c.key),
          })),
  );
/** The rows in which something stands under a column, each with its first cell. */
const rowsOf = (x: string | Row[] | undefined, first: string, key: string): string =>
  typeof x === "object"
    ? x
        .filter((r) => r[key]?.trim())
        .map((r) => `${r[first] ?? ""} ${r[key]}`)
        .join("; ")
    : "";
export const filled = (x: string | Row[] | undefined): boolean =>
  Array.isArray(x) ? x.some((r) => Object.values(r).some((c) => c.trim())) : Boolean(x?.trim());

export function AskedField(p: {
  field: SheetField;
  unit: string;
  things: Things;
  value: string | Row[] | undefined;
  set: (x: string | Row[]) => void;
}) {
  const { field: f } = p;
  if (f.of === "table")
    return (
      <TableField
        label={f.label}
        needed={f.needed}
        columns={f.columns.map((c) => ({ ...c, label: measured(c, p.unit) }))}
        rows={Array.isArray(p.value) ? p.value : []}
        set={p.set}
      />
    );
  const value = typeof p.value === "string" ? p.value : "";
  const label = `${measured(f, p.unit)}${f.needed ? " *" : ""}`;
  const options = f.of === "thing" ? (p.things[f.things] ?? []) : choicesOf(f);
  if (f.of === "thing" || options.length)
    return (
      <Choice
        label={label}
        value={value}
        set={p.set}
        options={[{ value: "", word: f.needed ? "choose" : "not said" }, ...options]}
      />
    );
  const hint = f.hint ? { hint: f.hint } : {};
  return (
    <TextField
      label={label}
      value={value}
      set={p.set}
      {...(f.of === "date" ? { type: "date" } : hint)}
    />
  );
}

const UNITS: Record<string, string> = {
  ...{ "1": "", deg: "°", C: "°C" },
  ...{ ohm: "Ω", mohm: "mΩ", kohm: "kΩ", Mohm: "MΩ" },
};

/** Whether a label has a unit in it as a word of its own: a litre is not in "flight". */
const names = (label: string, unit: string): boolean =>
  label.split(/[\s,()]+/).includes(unit) || (!/^\w+$/.test(unit) && label.includes(unit));

/** The label with the unit of a bare number. */
export function measured(f: { label: string; of: string; unit: string }, length: string): string {
  const unit = f.of === "length" ? f.unit || length : f.unit;
  const shown = UNITS[unit] ?? unit;
  return shown && !names(f.label, shown) ? `${f.label}, ${shown}` : f.label;
}
