/** What moves along with a cable: a row each, kept under its name, with stations and thickness. */
import { Choice, same, TextField } from "../marks/fields";
import type { FittingFile } from "./useCableTrial";

export type FittingRow = { id: string; kind: string; from: string; to: string; radius: string };

const KINDS = same("turnbuckle", "terminal", "sleeve", "shackle");
const mm = (m: number): string => String(Number((m * 1e3).toFixed(3)));
const m = (typed: string): number =>
  Math.round(Number(typed.trim().replace(",", ".").replace("−", "-")) * 1e3) / 1e6;

export const rowsOf = (fittings: FittingFile[] | undefined): FittingRow[] =>
  (fittings ?? []).map((f) => ({
    id: f.id,
    kind: f.kind,
    from: mm(f.at[0] ?? NaN),
    to: mm(f.at[1] ?? NaN),
    radius: f.radius === undefined ? "" : mm(f.radius),
  }));

/** A radius left empty is not written: the program then takes 6.5 mm, as the field shows. */
export const fittingsOf = (rows: FittingRow[]): FittingFile[] =>
  rows.map((r) => ({
    id: r.id.trim(),
    kind: r.kind,
    at: [m(r.from), m(r.to)],
    ...(r.radius.trim() ? { radius: m(r.radius) } : {}),
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
  const change = (i: number, part: Partial<FittingRow>) =>
    set(rows.map((r, k) => (k === i ? { ...r, ...part } : r)));
  return (
    <fieldset className="form-name fitting-rows">
      <legend>What moves along with it, by station at neutral</legend>
      {rows.map((r, i) => (
        <div key={i} className="inline-form">
          <TextField label="Name" value={r.id} set={(id) => change(i, { id })} />
          <Choice label="Kind" value={r.kind} set={(kind) => change(i, { kind })} options={KINDS} />
          <TextField label="From, mm" value={r.from} set={(from) => change(i, { from })} />
          <TextField label="To, mm" value={r.to} set={(to) => change(i, { to })} />
          <TextField
            label="Radius, mm"
            hint="6.5"
            value={r.radius}
            set={(radius) => change(i, { radius })}
          />
          <button
            type="button"
            className="plain"
            aria-label={`Take out ${r.id}`}
            onClick={() => set(rows.filter((_, k) => k !== i))}
          >
            Take out
          </button>
        </div>
      ))}
      <button
        type="button"
        className="plain"
        onClick={() => {
          const kind = rows.some((r) => r.kind === "turnbuckle") ? "terminal" : "turnbuckle";
          set([...rows, { id: fresh(rows, kind), kind, from: "", to: "", radius: "" }]);
        }}
      >
        Add what moves along
      </button>
    </fieldset>
  );
}
