/** Weight and balance: weighing, estimate, equipment, loadings, the worst of them, limits. */
import type { ReactNode } from "react";
import { useOutletContext, useSearchParams } from "react-router";
import Button from "react-bootstrap/Button";

import type { Verdict, WeightPage as Page, WeightRow } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { useWeight } from "../app/queries";
import { Parts } from "../kit/Parts";
import { TakeIt } from "../kit/TakeIt";
import { CheckList } from "../marks/CheckList";
import { Caution, Waiting } from "../marks/Said";
import { VerdictMark } from "../marks/VerdictMark";
import { PasteTyped } from "../worksheets/PasteTyped";
import { EffectSaid, LedgerTable } from "./EquipmentPart";
import { EstimateSaid } from "./EstimatePart";
import { drawn, type Effect, type Estimate, type WeighingFigure as Weighed } from "./figures";
import type { LoadingFigure, WorstFigure } from "./figures";
import { LoadingChart, Loads, useMoved } from "./LoadingPart";
import { OtherDatum } from "./OtherDatum";
import { RowSheet } from "./RowSheet";
import { RowsTable } from "./RowsTable";
import { WeighingFigure } from "./WeighingFigure";
import { WeighingSheet } from "./WeighingSheet";
import { WeightForm } from "./WeightForm";
import { BallastSaid, WorstChart, WorstTable } from "./WorstPart";
import "./weight.css";

const PARTS = ["weighing", "estimate", "equipment", "loadings", "worst", "limits"] as const;
type Part = (typeof PARTS)[number];
const WORDS: Record<Part, string> = {
  weighing: "Weighing",
  estimate: "Estimate",
  equipment: "Equipment",
  loadings: "Loadings",
  worst: "Worst cases",
  limits: "Limits and stations",
};
const KINDS: Record<Part, string[]> = {
  weighing: ["weighing", "scale"],
  estimate: ["part", "sureness"],
  equipment: ["change"],
  loadings: ["loading"],
  worst: ["place"],
  limits: ["limits", "fuel", "station", "tank", "group"],
};
/** Kinds of which many come at once, with words for them. */
const MANY: Record<string, [many: string, one: string, hint: string]> = {
  part: ["parts", "Part", "Engine with mount"],
  station: ["stations", "Station", "Pilot"],
  change: ["changes", "Change", "Second radio"],
};
const ALL = PARTS.map((p, n) => [n ? p : "", WORDS[p]] as const);
const FIRST: Record<Part, string> = {
  weighing:
    "Nothing yet. Enter each scale with its calibration, then a weighing: which wheel stands on which scale, and where. What to prepare and what to read follows.",
  estimate: "",
  equipment: "",
  loadings:
    "Nothing yet. Enter a loading: who is on board, what is in the lockers, how much fuel. It is drawn in the envelope, with fuel burning off.",
  worst: "",
  limits:
    "Nothing yet. Enter the limits with the envelope as the maker draws it, the fuel, and every seat, locker and tank.",
};

export function WeightPage() {
  const { aircraft } = useOutletContext<FrameContext>();
  const [search, setSearch] = useSearchParams();
  const wanted = search.get("part") ?? "weighing";
  const part = PARTS.find((p) => p === wanted) ?? "weighing";
  const page = useWeight(aircraft.slug);
  const parts = <Parts label="Parts of weight" all={ALL} now={part === "weighing" ? "" : part} />;
  const may = aircraft.may.includes("measure");
  const of = (more: Record<string, string>) =>
    setSearch(part === "weighing" ? more : { part, ...more });
  if (!page.data)
    return (
      <div className="subject">
        <section className="figure" aria-label="Weight">
          {parts}
          <Waiting error={page.error} />
        </section>
      </div>
    );
  const rows = page.data.results.filter((r) => KINDS[part].includes(r.kind));
  const making = search.get("new") ?? "";
  const chosen = making ? undefined : rows.find((r) => r.slug === search.get("row"));
  const first = rows.find((r) => r.kind === KINDS[part][0]) ?? rows[0];
  const row = chosen ?? (making || PICKS_NONE.includes(part) ? undefined : first);
  const view: View = {
    page: page.data,
    part,
    rows,
    row,
    making,
    again: search.get("again") ?? "",
    may,
    of,
  };
  return part === "loadings" && row ? (
    <LoadingView key={row.slug} {...view} row={row}>
      {parts}
    </LoadingView>
  ) : (
    <PlainView {...view}>{parts}</PlainView>
  );
}

/** Parts whose answer is of the whole aircraft: no row is chosen until somebody does. */
const PICKS_NONE: readonly string[] = ["worst", "estimate", "equipment"];

type View = {
  page: Page;
  part: Part;
  rows: WeightRow[];
  row: WeightRow | undefined;
  making: string;
  again: string;
  may: boolean;
  of: (more: Record<string, string>) => void;
};

function PlainView(p: View & { children: ReactNode }) {
  return (
    <div className={p.making ? "subject alone" : "subject"}>
      <section className="figure" aria-label={WORDS[p.part]}>
        <Head {...p} />
        <Answer {...p} />
        <Below {...p} />
      </section>
      <aside className="verdict-sheet" aria-label="Sheet">
        {p.row ? (
          <RowSheet
            key={p.row.slug}
            page={p.page}
            row={p.row}
            may={p.may}
            go={(slug) => p.of(slug ? { row: slug } : {})}
          >
            {p.row.kind === "weighing" && (
              <WeighingSheet
                key={p.row.slug}
                page={p.page}
                row={p.row}
                may={p.may}
                again={() => p.of({ new: "weighing", again: p.row?.slug ?? "" })}
              />
            )}
          </RowSheet>
        ) : (
          <Whole page={p.page} />
        )}
        <Caution>{p.page.caution}</Caution>
      </aside>
    </div>
  );
}

function LoadingView(p: View & { row: WeightRow; children: ReactNode }) {
  const now = useMoved(p.row);
  const figure = drawn<LoadingFigure>(p.row);
  return (
    <div className="subject">
      <section className="figure" aria-label={WORDS[p.part]}>
        <Head {...p} />
        {!p.making && figure && <LoadingChart figure={figure} kg={now.kg} />}
        <Below {...p} />
      </section>
      <aside className="verdict-sheet" aria-label="Sheet">
        <RowSheet
          page={p.page}
          row={p.row}
          may={p.may}
          go={(slug) => p.of(slug ? { row: slug } : {})}
        >
          {figure && <Loads row={p.row} figure={figure} now={now} may={p.may} />}
        </RowSheet>
        <Caution>{p.page.caution}</Caution>
      </aside>
    </div>
  );
}

/** Parts, what may be entered here, and its form. */
function Head(p: View & { children: ReactNode }) {
  const kinds = p.page.kinds.filter(
    (k) =>
      KINDS[p.part].includes(k.id) &&
      !(p.page.once.includes(k.id) && p.rows.some((r) => r.kind === k.id)),
  );
  return (
    <>
      <h1 className="visually-hidden">{WORDS[p.part]}</h1>
      {p.children}
      {p.may && (
        <div className="buttons new-rows">
          {kinds.map((k) => (
            <Button key={k.id} variant="outline-primary" onClick={() => p.of({ new: k.id })}>
              New {k.title.toLowerCase()}
            </Button>
          ))}
        </div>
      )}
      {p.making && (
        <WeightForm
          key={p.making}
          page={p.page}
          kind={p.making}
          again={p.page.results.find((r) => r.slug === p.again)}
          done={(slug) => p.of(slug ? { row: slug } : {})}
        />
      )}
      {p.rows.length === 0 && !p.making && FIRST[p.part] && <p>{FIRST[p.part]}</p>}
    </>
  );
}

/** The answer of a part, drawn. */
function Answer(p: View) {
  if (p.part === "weighing") {
    const shown = p.row?.kind === "weighing" ? p.row : p.rows.find((r) => r.kind === "weighing");
    const figure = drawn<Weighed>(shown);
    return figure && !p.making ? <WeighingFigure figure={figure} /> : null;
  }
  if (p.part === "estimate") return <EstimateSaid estimate={p.page.estimate as Estimate | null} />;
  if (p.part === "worst") {
    const worst = p.page.worst as WorstFigure;
    return (
      <>
        <WorstChart figure={worst} />
        <WorstTable figure={worst} />
        <h2>Ballast</h2>
        <BallastSaid page={p.page} />
      </>
    );
  }
  if (p.part === "equipment")
    return (
      <>
        <LedgerTable page={p.page} chosen={p.row?.slug} pick={(row) => p.of({ row })} />
        <EffectSaid effect={p.page.effect as Effect | null} />
      </>
    );
  if (p.part === "limits") {
    const worst = p.page.worst as WorstFigure;
    return worst.envelope.length > 0 ? (
      <WorstChart figure={{ envelope: worst.envelope, mac: worst.mac ?? null }} />
    ) : null;
  }
  return null;
}

/** The rows themselves, pasting many, and what is taken away. */
function Below(p: View) {
  const { aircraft } = useOutletContext<FrameContext>();
  const at = `/api/aircraft/${aircraft.slug}/weight` as const;
  return (
    <>
      <RowsTable
        page={p.page}
        kinds={KINDS[p.part]}
        chosen={p.row?.slug}
        pick={(row) => p.of({ row })}
      />
      {p.may &&
        KINDS[p.part].map((kind) => {
          const words = MANY[kind];
          const of = p.page.kinds.find((k) => k.id === kind);
          return (
            words &&
            of && (
              <PasteTyped
                key={kind}
                at="weight/pasted"
                kind={kind}
                many={words[0]}
                one={words[1]}
                hint={words[2]}
                fields={of.fields}
              />
            )
          );
        })}
      {p.part === "limits" && <OtherDatum />}
      {p.rows.length > 0 && <TakeIt at={at} of={TAKEN[p.part] ?? []} />}
    </>
  );
}

const TAKEN: Partial<Record<Part, [string, string][]>> = {
  weighing: [["weight.json", "All of it (JSON)"]],
  loadings: [["made/loading.pdf", "Loading sheet with a graph (PDF)"]],
  equipment: [
    ["made/equipment.pdf", "Equipment list (PDF)"],
    ["lists/equipment", "Equipment list (CSV)"],
  ],
  limits: [["lists/stations", "Stations and tanks (CSV)"]],
  estimate: [["lists/parts", "Parts (CSV)"]],
};

/** The aircraft as a whole. */
function Whole({ page }: { page: Page }) {
  return (
    <>
      <h2 className="sheet-name">The aircraft as a whole</h2>
      {page.verdict && (
        <p className="verdict-line">
          <VerdictMark verdict={page.verdict as Verdict} big />
        </p>
      )}
      {page.checks.length === 0 && (
        <p>Not weighed, and nothing entered yet: begin with the limits and the scales.</p>
      )}
      <CheckList checks={page.checks} all />
    </>
  );
}
