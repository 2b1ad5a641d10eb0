/** What moves along with a cable: a row each, kept under its name, with stations and thickness. */
import { Choice, Fields, same, TextField } from "../kit/fields";
import { fromMm, toMm } from "../kit/numbers";
import { Rows } from "../kit/Rows";
import type { FittingFile } from "./useCableTrial";

export type FittingRow = { id: string; kind: string; from: string; to: string; radius: string };

const KINDS = same("turnbuckle", "terminal", "sleeve", "shackle");
export const rowsOf = (fittings: FittingFile[] | undefined): FittingRow[] =>
  (fittings ?? []).map((f) => ({
    id: f.id,
    kind: f.kind,
    from: toMm(f.at[0] ?? NaN),
    to: toMm(f.at[1] ?? NaN),
    radius: f.radius === undefined ? "" : toMm(f.radius),
  }));

/** A radius left empty is not written: nobody said it. */
export const fittingsOf = (rows: FittingRow[]): FittingFile[] =>
  rows.map((r) => ({
    id: r.id.trim(),
    kind: r.kind,
    at: [fromMm(r.from), fromMm(r.to)],
    ...(r.radius.trim() ? { radius: fromMm(r.radius) } : {}),
  }));

/** A name that no row has yet. */
function fresh(rows: FittingRow[], kind: string): string {
  const names = new Set(rows.map((r) => r.id));
  if (!names.has(kind)) return kind;
  let n = 2;
  while (names.has(`${kind} ${n}`)) n += 1;
  return `${kind} ${n}`;
}

export function FittingRows({ rows, set }: { rows: FittingRow[]; set: (r: FittingRow[]) => void }) {
  const kind = rows.some((r) => r.kind === "turnbuckle") ? "terminal" : "turnbuckle";
  return (
    <Rows
      className="fitting-rows"
      legend="What moves along with it, by station at neutral"
      add="Add what moves along"
      rows={rows}
      set={set}
      empty={{ id: fresh(rows, kind), kind, from: "", to: "", radius: "" }}
      takeOut={(r) => `Take out ${r.id}`}
      row={(r, change) => (
        <>
          <TextField label="Name" value={r.id} set={(id) => change({ id })} />
          <Choice label="Kind" value={r.kind} set={(k) => change({ kind: k })} options={KINDS} />
          <Fields of={FIELDS} values={r} set={change} />
        </>
      )}
    />
  );
}

const FIELDS = [
  ["from", "From, mm"],
  ["to", "To, mm"],
  ["radius", "Radius, mm", "not said"],
] as const;
