/** Tubes that can be made again: the list and one tube's card, what the rules say on the right. */
import { useOutletContext, useSearchParams } from "react-router";
import Button from "react-bootstrap/Button";

import type { Line, LineRow, Verdict } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { useLine, useLines } from "../app/queries";
import { RowName } from "../kit/RowName";
import { CheckList } from "../marks/CheckList";
import { Caution, Waiting } from "../marks/Said";
import { VerdictMark } from "../marks/VerdictMark";
import { capital, plural } from "../marks/words";
import { Parts } from "../kit/Parts";
import { SheetsPart } from "../worksheets/SheetsPart";
import { BendCardPart } from "./BendCardPart";
import { FIGURES } from "./figures";
import { LeakPart } from "./LeakPart";
import { LineSheet } from "./LineSheet";
import { TubeForm } from "./TubeForm";
import "./lines.css";

const PARTS = ["tubes", "hoses", "fuel", "brakes", "air data", "tanks", "fittings"];

export function LinesPage() {
  const [search] = useSearchParams();
  const part = (search.get("part") ?? "").replaceAll("-", " ");
  if (!PARTS.includes(part)) return <Tubes />;
  return (
    <SheetsPart key={part} trade="lines" part={part} figures={FIGURES}>
      <Parts label="Parts of lines" all={ALL as [string, string][]} now={part} />
    </SheetsPart>
  );
}

const ALL = [["", "Tubes"], ...PARTS.map((p) => [p, p === "tubes" ? "About tubes" : capital(p)])];

function Tubes() {
  const { aircraft } = useOutletContext<FrameContext>();
  const [search, setSearch] = useSearchParams();
  const lines = useLines(aircraft.slug);
  const rows = lines.data?.results ?? [];
  const making = search.get("new") !== null;
  const chosen = making ? "" : (search.get("line") ?? rows[0]?.slug ?? "");
  const line = useLine(aircraft.slug, chosen);
  const may = aircraft.may.includes("measure");
  const go = (slug: string) => setSearch(slug ? { line: slug } : {});
  return (
    <div className="subject">
      <section className="figure" aria-label="Lines">
        <Parts label="Parts of lines" all={ALL as [string, string][]} now="" />
        <div className="lines-bar">
          <h1>{plural(lines.data?.count ?? 0, "line")}</h1>
          {may && !making && (
            <Button variant="outline-primary" onClick={() => setSearch({ new: "" })}>
              New tube
            </Button>
          )}
        </div>
        {!lines.data && <Waiting error={lines.error} />}
        {lines.data?.count === 0 && !making && (
          <p>
            No lines yet. Enter the first tube with “New tube”: its route as measured in the
            aircraft, its size and the bender’s radius. Its bend card follows at once.
          </p>
        )}
        {rows.length > 0 && <LineTable rows={rows} chosen={chosen} pick={go} />}
        {making && <TubeForm done={go} />}
        {line.data && <BendCardPart key={line.data.slug} line={line.data} />}
        {line.data && <LeakPart key={`${line.data.slug} leak`} line={line.data} may={may} />}
      </section>
      <aside className="verdict-sheet" aria-label="Sheet">
        {line.data ? <Sheet line={line.data} may={may} gone={() => go("")} /> : null}
        {chosen && !line.data && <Waiting error={line.error} />}
      </aside>
    </div>
  );
}

function Sheet(p: { line: Line; may: boolean; gone: () => void }) {
  return (
    <>
      <h2 className="sheet-name">{p.line.name}</h2>
      <p className="verdict-line">
        <VerdictMark verdict={p.line.verdict as Verdict} big />
      </p>
      <CheckList checks={p.line.checks} all />
      <LineSheet line={p.line} may={p.may} gone={p.gone} />
      <Caution>{p.line.caution}</Caution>
    </>
  );
}

function LineTable(p: { rows: LineRow[]; chosen: string; pick: (slug: string) => void }) {
  return (
    <table className="asked lines-table" tabIndex={0}>
      <thead>
        <tr>
          <th scope="col">Line</th>
          <th scope="col">Carries</th>
          <th scope="col" className="num">
            Outside, mm
          </th>
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
            />
            <td>{r.service}</td>
            <td className="num">{r.od_mm.toFixed(2)}</td>
            <td>{r.open.join(" ") || "nothing"}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
