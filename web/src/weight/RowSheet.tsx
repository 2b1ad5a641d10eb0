/** One row on the right: how it stands, what belongs to its kind, changing it, taking it away. */
import { type ReactNode, useState } from "react";
import { useOutletContext } from "react-router";

import type { Verdict, WeightPage, WeightRow } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { Change } from "../kit/Change";
import { TakeAway } from "../kit/TakeAway";
import { CheckList } from "../marks/CheckList";
import { VerdictMark } from "../marks/VerdictMark";
import { measured } from "../worksheets/AskedField";
import { WeightForm } from "./WeightForm";

export function RowSheet(p: {
  page: WeightPage;
  row: WeightRow;
  may: boolean;
  go: (slug: string) => void;
  children?: ReactNode;
}) {
  const [open, setOpen] = useState(false);
  const { row } = p;
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
      {!row.checks.length && <Typed kind={kind} row={row} />}
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

/** What was typed, field by field. */
function Typed(p: { kind: WeightPage["kinds"][number] | undefined; row: WeightRow }) {
  const { aircraft } = useOutletContext<FrameContext>();
  const said = p.kind?.fields.filter((f) => p.row.typed[f.key]) ?? [];
  return (
    <dl className="facts">
      {said.map((f) => (
        <div key={f.key}>
          <dt>{measured(f, aircraft.length_unit)}</dt>
          <dd>
            {Array.isArray(p.row.typed[f.key])
              ? (p.row.typed[f.key] as Record<string, string>[])
                  .map((r) => Object.values(r).join(" · "))
                  .join("; ")
              : (f.choices.find((c) => c.value === p.row.typed[f.key])?.word ??
                String(p.row.typed[f.key]))}
          </dd>
        </div>
      ))}
    </dl>
  );
}
