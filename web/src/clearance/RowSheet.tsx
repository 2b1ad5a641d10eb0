/** One row on the right: what was typed, what is said of it, changing it, taking it away. */
import { useState } from "react";

import type { ClearancePage, ClearanceRow } from "../app/api";
import { Change } from "../kit/Change";
import { TakeAway } from "../kit/TakeAway";
import { CheckList } from "../marks/CheckList";
import { RowForm } from "../worksheets/RowForm";
import { TypedSaid } from "../worksheets/TypedSaid";
import { HINTS, NAMES, namesOf } from "./ClearancePage";

export function RowSheet(p: {
  page: ClearancePage;
  row: ClearanceRow;
  may: boolean;
  go: (slug: string) => void;
}) {
  const { row } = p;
  // Open for the row as it stands: once it is kept, and stands otherwise, it is closed.
  const [at, setAt] = useState<number | null>(null);
  const open = at === row.version;
  const setOpen = (on: boolean) => setAt(on ? row.version : null);
  const kind = p.page.kinds.find((k) => k.id === row.kind);
  const mine = p.page.checks.filter((c) => c.key.split(" ").includes(row.slug));
  if (!kind) return null;
  return (
    <>
      <h2 className="sheet-name">{row.name}</h2>
      <p className="quiet">{kind.title}</p>
      <CheckList checks={mine} all />
      <TypedSaid fields={kind.fields} typed={row.typed} />
      {row.said && <p className="quiet">{row.said}</p>}
      {p.may && <Change name={row.name} open={open} set={setOpen} />}
      {open && (
        <>
          <RowForm
            key={row.version}
            at="clearance"
            kind={kind}
            one={row}
            rows={namesOf(p.page)}
            names={NAMES}
            hint={HINTS[row.kind] ?? ""}
            done={() => setOpen(false)}
          />
          <TakeAway
            what={row.name}
            at={`clearance/rows/${row.slug}`}
            version={row.version}
            done={() => p.go("")}
          />
        </>
      )}
    </>
  );
}
