/** Many wires at once, from a spreadsheet: all of them, or none and which row is wrong. */
import { useState } from "react";
import { useOutletContext } from "react-router";

import type { HarnessPage } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { useWrite } from "../app/useWrite";
import { Entry } from "../kit/Entry";
import { type Row, TableField } from "../kit/TableField";
import { measured } from "../worksheets/AskedField";

const KEYS = ["circuit", "part", "awg", "from", "to", "length", "bundles", "class", "colour"];

export function PasteWires({ page }: { page: HarnessPage }) {
  const { aircraft } = useOutletContext<FrameContext>();
  const { write, error, busy } = useWrite();
  const [rows, setRows] = useState<Row[]>([]);
  const kind = page.kinds.find((k) => k.id === "wire");
  const fields = KEYS.map((key) => kind?.fields.find((f) => f.key === key)).filter(
    (f) => f !== undefined,
  );
  const name = { key: "name", label: "Wire", of: "text", unit: "", hint: "W12" };
  const columns = [
    { ...name, needed: true, limit: false, choices: [] },
    ...fields.map((f) => ({ ...f, label: measured(f, aircraft.length_unit) })),
  ];
  const keep = async () => {
    const filled = rows
      .map((r) => Object.fromEntries(Object.entries(r).filter(([, x]) => x.trim())))
      .filter((r) => Object.keys(r).length > 0);
    if (await write("harness/wires", { rows: filled }, "wires")) setRows([]);
  };
  return (
    <details className="paste-wires">
      <summary>Several wires at once, typed or pasted from a spreadsheet</summary>
      <Entry
        label="Several wires"
        className="sheet-form"
        save={keep}
        button="Keep all of them"
        off={busy}
        error={error}
      >
        <TableField label="Wires" columns={columns} rows={rows} set={setRows} needed={false} />
      </Entry>
    </details>
  );
}
