/** One row on the right: how it stands, what belongs to its kind, changing it, taking it away. */
import { type ReactNode, useState } from "react";

import type { Verdict, WeightPage, WeightRow } from "../app/api";
import { Change } from "../kit/Change";
import { TakeAway } from "../kit/TakeAway";
import { CheckList } from "../marks/CheckList";
import { VerdictMark } from "../marks/VerdictMark";
import { TypedSaid } from "../worksheets/TypedSaid";
import { WeightForm } from "./WeightForm";

export function RowSheet(p: {
  page: WeightPage;
  row: WeightRow;
  may: boolean;
  go: (slug: string) => void;
  children?: ReactNode;
}) {
  const { row } = p;
  // Open for the row as it stands: once it is kept, and stands otherwise, it is closed.
  const [at, setAt] = useState<number | null>(null);
  const open = at === row.version;
  const setOpen = (on: boolean) => setAt(on ? row.version : null);
  const kind = p.page.kinds.find((k) => k.id === row.kind);
  return (
    <>
      <h2 className="sheet-name">{row.name}</h2>
      <p className="quiet">{kind?.title}</p>
      {row.verdict && (
        <p className="verdict-line">
          <VerdictMark verdict={row.verdict as Verdict} big />
        </p>
      )}
      <CheckList checks={row.checks} all />
      {p.children}
      {!row.checks.length && <TypedSaid fields={kind?.fields ?? []} typed={row.typed} />}
      {p.may && <Change name={row.name} open={open} set={setOpen} />}
      {open && (
        <>
          <WeightForm
            key={row.version}
            page={p.page}
            kind={row.kind}
            one={row}
            done={() => setOpen(false)}
          />
          <TakeAway
            what={row.name}
            at={`weight/rows/${row.slug}`}
            version={row.version}
            done={() => p.go("")}
          />
        </>
      )}
    </>
  );
}
