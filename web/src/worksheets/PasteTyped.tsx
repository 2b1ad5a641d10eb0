/** Many rows of a kind at once, from a spreadsheet: all of them, or none and which is wrong. */
import { useState } from "react";
import { useOutletContext } from "react-router";

import type { SheetColumn, SheetField } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { useWrite } from "../app/useWrite";
import { Entry } from "../kit/Entry";
import { type Row, TableField } from "../kit/TableField";
import { capital } from "../marks/words";
import { measured } from "./AskedField";
import { LimitDocument } from "./LimitDocument";

const NOTHING = { source: "", page: "", reason: "" };

export function PasteTyped(p: {
  at: "harness/wires" | "weight/pasted" | "clearance/pasted";
  /** Which kind, where the address takes several. */
  kind?: string;
  /** In words: many of them, and one. */
  many: string;
  one: string;
  hint: string;
  fields: SheetField[];
}) {
  const { aircraft } = useOutletContext<FrameContext>();
  const { write, error, busy } = useWrite();
  const [rows, setRows] = useState<Row[]>([]);
  const [cited, setCited] = useState(NOTHING);
  const name = { key: "name", label: p.one, of: "text", unit: "", hint: p.hint, needed: true };
  const asked = p.fields.filter((f) => f.of !== "table");
  const columns: SheetColumn[] = [
    { ...name, limit: false, choices: [] },
    ...asked.map((f) => ({ ...f, label: measured(f, aircraft.length_unit) })),
  ];
  const limits = p.kind ? asked.filter((f) => f.limit) : [];
  const keep = async () => {
    const filled = rows
      .map((r) => Object.fromEntries(Object.entries(r).filter(([, x]) => x.trim())))
      .filter((r) => Object.keys(r).length > 0);
    const more = p.kind
      ? {
          kind: p.kind as "part",
          source: cited.source ? Number(cited.source) : null,
          page: cited.page,
        }
      : {};
    if (await write(p.at, { rows: filled, ...more } as never, p.many)) {
      setRows([]);
      setCited(NOTHING);
    }
  };
  return (
    <details className="paste-wires">
      <summary>Several {p.many} at once, typed or pasted from a spreadsheet</summary>
      <Entry
        label={`Several ${p.many}`}
        className="sheet-form"
        save={keep}
        button="Keep all of them"
        off={busy}
        error={error}
      >
        <TableField
          label={capital(p.many)}
          columns={columns}
          rows={rows}
          set={setRows}
          needed={false}
          file
        />
        <LimitDocument
          limits={limits.map((l) => l.label)}
          said={rows.some((r) => limits.some((l) => r[l.key]?.trim()))}
          changed={false}
          is={cited}
          set={setCited}
        />
      </Entry>
    </details>
  );
}
