/** Rows pasted into a document: tried, and let go once they were understood. */
import { useState } from "react";

import { Entry } from "./Entry";
import { TextArea } from "./fields";

export function PasteRows(p: {
  /** What a row says, in order. */
  label: string;
  hint?: string;
  button: string;
  /** Whether they were understood; what was not stays to be mended. */
  take: (rows: string) => Promise<unknown>;
}) {
  const [rows, setRows] = useState("");
  const give = async () => {
    if (await p.take(rows)) setRows("");
  };
  return (
    <Entry
      save={() => void give()}
      className="paste"
      button={p.button}
      variant="outline-primary"
      off={!rows.trim()}
    >
      <TextArea
        label={p.label}
        value={rows}
        set={setRows}
        rows={4}
        {...(p.hint ? { hint: p.hint } : {})}
      />
    </Entry>
  );
}
