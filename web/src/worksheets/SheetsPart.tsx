/** The worksheets of one part of a trade: the list, one sheet with its drawing, a new one. */
import { useState } from "react";
import { Link, useOutletContext, useSearchParams } from "react-router";
import Button from "react-bootstrap/Button";

import type { Worksheet, SheetKind, SheetRow, Verdict } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { useWorksheet, useWorksheets } from "../app/queries";
import { RowName } from "../kit/RowName";
import { Change } from "../kit/Change";
import { TakeIt } from "../kit/TakeIt";
import { TakeAway } from "../kit/TakeAway";
import { CheckList } from "../marks/CheckList";
import { Caution, Waiting } from "../marks/Said";
import { VerdictMark } from "../marks/VerdictMark";
import { capital } from "../marks/words";
import { Signatures } from "../signoff/SignPanel";
import { type Aids, Answer, type Figures } from "./Answer";
import { SheetForm } from "./SheetForm";
import "./worksheets.css";

type PartProps = {
  trade: string;
  part: string;
  figures: Figures;
  aids?: Aids;
  children?: React.ReactNode;
};

export function SheetsPart(p: PartProps) {
  const { aircraft } = useOutletContext<FrameContext>();
  const [search, setSearch] = useSearchParams();
  const sheets = useWorksheets(aircraft.slug, p.trade);
  const kinds = (sheets.data?.kinds ?? []).filter((k) => k.part === p.part);
  const rows = (sheets.data?.results ?? []).filter((r) => r.part === p.part);
  const making = kinds.find((k) => k.id === search.get("new"));
  const [changing, setChanging] = useState("");
  const chosen = making ? "" : (search.get("sheet") ?? rows[0]?.slug ?? "");
  const sheet = useWorksheet(aircraft.slug, chosen);
  const may = aircraft.may.includes("measure");
  const at = { part: p.part.replaceAll(" ", "-") };
  const go = (slug: string) => setSearch(slug ? { ...at, sheet: slug } : at);
  const kind = kinds.find((k) => k.id === sheet.data?.kind);
  return (
    <div className="subject">
      <section className="figure" aria-label="Worksheets">
        <h1 className="visually-hidden">{capital(p.part)}</h1>
        {p.children}
        {!sheets.data && <Waiting error={sheets.error} />}
        {rows.length > 0 && <SheetTable rows={rows} chosen={chosen} pick={go} />}
        {making ? (
          <SheetForm
            key={making.id}
            kind={making}
            things={sheets.data?.things ?? {}}
            figures={p.figures}
            aids={p.aids}
            done={go}
          />
        ) : (
          <>
            {sheet.data && kind && changing === chosen ? (
              <SheetForm
                key={`${chosen} ${sheet.data.version}`}
                kind={kind}
                one={sheet.data}
                things={sheets.data?.things ?? {}}
                figures={p.figures}
                aids={p.aids}
                done={() => setChanging("")}
              />
            ) : (
              sheet.data && <Kept sheet={sheet.data} figures={p.figures} />
            )}
            {may && (
              <Begin
                kinds={kinds}
                first={rows.length === 0}
                begin={(k) => setSearch({ ...at, new: k })}
              />
            )}
          </>
        )}
      </section>
      <aside className="verdict-sheet" aria-label="Sheet">
        {sheet.data && kind && !making && (
          <Aside
            key={sheet.data.slug}
            sheet={sheet.data}
            kind={kind}
            may={may}
            open={changing === chosen}
            setOpen={(on) => setChanging(on ? chosen : "")}
            gone={() => go("")}
          />
        )}
        {chosen && !sheet.data && <Waiting error={sheet.error} />}
        {making && <Caution>{making.caution}</Caution>}
      </aside>
    </div>
  );
}

/** What may be asked here, each with the question that it answers. */
function Begin(p: { kinds: SheetKind[]; first: boolean; begin: (kind: string) => void }) {
  return (
    <section aria-label="New worksheet" className="begin">
      <h2>{p.first ? "Begin with a question" : "Ask something else"}</h2>
      <ul className="rows">
        {p.kinds.map((k) => (
          <li key={k.id}>
            <Button variant="outline-primary" onClick={() => p.begin(k.id)}>
              {k.title}
            </Button>
            <span>{k.asks}</span>
          </li>
        ))}
      </ul>
    </section>
  );
}

function Kept({ sheet, figures }: { sheet: Worksheet; figures: Figures }) {
  return (
    <section aria-label={sheet.name}>
      <h2>{sheet.name}</h2>
      <Answer worked={sheet.worked} Figure={figures[sheet.kind]} />
    </section>
  );
}

function Aside(p: {
  sheet: Worksheet;
  kind: SheetKind;
  may: boolean;
  open: boolean;
  setOpen: (open: boolean) => void;
  gone: () => void;
}) {
  const { aircraft } = useOutletContext<FrameContext>();
  const { sheet } = p;
  const names = new Map(aircraft.bays.map((b) => [b.slug, b.name]));
  return (
    <>
      <h2 className="sheet-name">{sheet.name}</h2>
      <p className="quiet">{p.kind.title}</p>
      {sheet.verdict ? (
        <p className="verdict-line">
          <VerdictMark verdict={sheet.verdict as Verdict} big />
        </p>
      ) : (
        <p>It compares; nothing is judged.</p>
      )}
      <CheckList checks={sheet.worked.checks} all />
      <h2>Where it stands</h2>
      <p>
        {sheet.stands_in.length === aircraft.bays.length
          ? "In every bay: no bay was chosen."
          : sheet.stands_in.map((b, i) => (
              <span key={b}>
                {i > 0 && ", "}
                <Link to={`/a/${aircraft.slug}/bays/${b}`}>{names.get(b) ?? b}</Link>
              </span>
            ))}
      </p>
      <p className="quiet">Limits from: {sheet.cited || "no document"}</p>
      <TakeIt
        at={`/api/aircraft/${aircraft.slug}/worksheets/${sheet.slug}`}
        of={[
          ["sheet.pdf", "Printed on one page"],
          ...tables(p.kind, sheet).map(
            (f) => [`rows/${f.key}.csv`, `${short(f.label)} as rows (CSV)`] as const,
          ),
          ...(sheet.to_scale ? ([["scale.pdf", "Drawn 1:1"]] as const) : []),
          ...(sheet.worked.checks.some((c) => c.due)
            ? ([["due.ics", "Its days for a calendar"]] as const)
            : []),
        ]}
      />
      <h2>Signatures</h2>
      <Signatures slug={aircraft.slug} scope={`worksheet:${sheet.slug}`} />
      {p.may && <Change name={sheet.name} open={p.open} set={p.setOpen} />}
      {p.open && (
        <TakeAway
          what={sheet.name}
          at={`worksheets/${sheet.slug}`}
          version={sheet.version}
          done={p.gone}
        />
      )}
      <Caution>{p.kind.caution}</Caution>
    </>
  );
}

function SheetTable(p: { rows: SheetRow[]; chosen: string; pick: (slug: string) => void }) {
  return (
    <table className="asked sheets-table" tabIndex={0}>
      <thead>
        <tr>
          <th scope="col">Sheet</th>
          <th scope="col">What is wrong or open</th>
        </tr>
      </thead>
      <tbody>
        {p.rows.map((r) => (
          <tr key={r.slug} className={r.slug === p.chosen ? "chosen" : ""}>
            <RowName
              name={r.name}
              verdict={r.verdict}
              chosen={r.slug === p.chosen}
              pick={() => p.pick(r.slug)}
            >
              <span className="quiet">{r.title}</span>
            </RowName>
            <td>
              {r.open[0] ?? "nothing"}
              {r.open.length > 1 && ` And ${r.open.length - 1} more.`}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** The tables of a sheet in which something stands. */
const tables = (kind: SheetKind, sheet: Worksheet) =>
  kind.fields.filter(
    (f) => f.of === "table" && ((sheet.typed[f.key] ?? []) as unknown[]).length > 0,
  );

/** A label without what explains it. */
const short = (label: string) => label.split(/[,;]/)[0] ?? label;
