/** The holes in bulkheads and ribs that a run goes through, and what guards their edges. */
import { type Row, TableField } from "./TableField";
import { Tick } from "./fields";

const HOLES = [
  ["id", "Hole", "rib 1"],
  ["station", "Station", "2050"],
  ["y", "Butt line", "-110"],
  ["z", "Water line", "200"],
  ["d", "Diameter", "18"],
].map(([key = "", label = "", hint = ""]) => ({
  ...{ key, label, hint, of: "length", unit: "", needed: true, limit: false, choices: [] },
}));
const PLATE = {
  ...{ key: "plate", label: "In a", hint: "", of: "choice", unit: "", needed: false, limit: false },
  choices: ["bulkhead", "rib"].map((x) => ({ value: x, word: x })),
};
const GUARD = {
  ...{
    key: "guard",
    label: "Its edge",
    hint: "",
    of: "choice",
    unit: "",
    needed: false,
    limit: false,
  },
  choices: [
    { value: "grommet", word: "a grommet" },
    { value: "bulkhead_fitting", word: "a bulkhead fitting" },
    { value: "pass_through", word: "a pass-through seal" },
    { value: "fairlead", word: "a fairlead" },
    { value: "none", word: "no guard" },
  ],
};

/** Rows in which something stands, without their empty cells. */
export const said = (rows: Row[]): Row[] =>
  rows
    .map((row) => Object.fromEntries(Object.entries(row).filter(([, x]) => x.trim())))
    .filter((row) => Object.keys(row).length > 0);

/** `none`: somebody says that it goes through none; neither: not said. */
export function HolesField(p: {
  unit: string;
  rows: Row[];
  set: (rows: Row[]) => void;
  none: boolean;
  setNone: (none: boolean) => void;
}) {
  return (
    <details className="form-name holes-field" open={p.rows.length > 0 || p.none}>
      <summary>What it goes through</summary>
      <TableField
        label={`Round holes that it goes through, ${p.unit}; a bulkhead stands at its station, a rib at its butt line`}
        columns={[...HOLES, PLATE, GUARD]}
        rows={p.rows}
        set={p.set}
        needed={false}
      />
      <Tick label="It goes through no bulkhead and no rib" value={p.none} set={p.setNone} />
    </details>
  );
}
