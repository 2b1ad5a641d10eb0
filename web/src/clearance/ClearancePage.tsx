/** Clearances: what touches, at which position of which control; sections; shapes; distances. */
import { useOutletContext, useSearchParams } from "react-router";
import Button from "react-bootstrap/Button";

import type { ClearancePage as Page, ClearanceRow, Verdict } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { useClearance } from "../app/queries";
import { Parts } from "../kit/Parts";
import { TakeIt } from "../kit/TakeIt";
import { CheckList } from "../marks/CheckList";
import { Caution, Waiting } from "../marks/Said";
import { VerdictMark } from "../marks/VerdictMark";
import { PasteTyped } from "../worksheets/PasteTyped";
import { RowForm } from "../worksheets/RowForm";
import { RowsOfKind } from "../worksheets/RowsOfKind";
import { ApartPart } from "./ApartPart";
import { MapPart } from "./MapPart";
import { PairSheet } from "./PairSheet";
import { RowSheet } from "./RowSheet";
import { SectionPart } from "./SectionPart";
import { SheetsPart } from "../worksheets/SheetsPart";
import "./clearance.css";

const PARTS = ["near", "section", "shapes", "zones", "rules", "known", "crossings"] as const;
type Part = (typeof PARTS)[number];
const WORDS: Record<Part, string> = {
  near: "Near pairs",
  section: "Section",
  shapes: "Shapes",
  zones: "Zones",
  rules: "Distances",
  known: "How sure",
  crossings: "Crossings and tools",
};
const ALL = PARTS.map((p, n) => [n ? p : "", WORDS[p]] as const);
const KINDS: Record<Part, string[]> = {
  near: [],
  section: [],
  shapes: ["shape", "mover"],
  zones: ["zone"],
  rules: ["rule", "pair", "contact"],
  known: ["sureness", "about", "range"],
  crossings: [],
};
export const HINTS: Record<string, string> = {
  shape: "Battery box",
  mover: "Left door",
  zone: "Exhaust jet",
  rule: "Control rod from fuel",
  pair: "Loom and pedal rod",
  contact: "Cable in its fairlead",
  about: "Aft bundle by hand",
  range: "Rudder, pushed hard",
  sureness: "How well places are known",
};
const FIRST: Record<Part, string> = {
  near: "",
  section: "",
  shapes:
    "Lines, wires, cables and linkages are known already. Enter what else takes room: a battery, a frame’s flange, a pedal pad, a door and what swings it.",
  zones:
    "Enter what nothing may enter: the exhaust jet, a hot region, the path of a rescue device.",
  rules: "",
  known:
    "Nothing yet. Without knowing how well places are known no gap can be clear: say it once for linkages, cables, tubes and shapes, and push each bundle by hand.",
  crossings: "",
};

export function ClearancePage() {
  const { aircraft } = useOutletContext<FrameContext>();
  const [search, setSearch] = useSearchParams();
  const wanted = search.get("part") ?? "near";
  const part = PARTS.find((p) => p === wanted) ?? "near";
  const page = useClearance(aircraft.slug);
  const may = aircraft.may.includes("measure");
  const of = (more: Record<string, string>) =>
    setSearch(part === "near" ? more : { part, ...more });
  const parts = <Parts label="Parts of clearance" all={ALL} now={part === "near" ? "" : part} />;
  if (part === "crossings")
    return (
      <SheetsPart trade="clearance" part="crossings" figures={{}}>
        {parts}
      </SheetsPart>
    );
  if (!page.data)
    return (
      <div className="subject">
        <section className="figure" aria-label="Clearance">
          {parts}
          <Waiting error={page.error} />
        </section>
      </div>
    );
  const data = page.data;
  const making = search.get("new") ?? "";
  const key = search.get("pair");
  const pair =
    data.pairs.find((x) => x.key === key) ?? (part === "near" ? data.pairs[0] : undefined);
  const row = data.results.find(
    (r) => r.slug === search.get("row") && KINDS[part].includes(r.kind),
  );
  return (
    <div className={making ? "subject alone" : "subject"}>
      <section className="figure" aria-label={WORDS[part]}>
        <h1 className="visually-hidden">{WORDS[part]}</h1>
        {parts}
        {part === "near" && (
          <MapPart page={data} chosen={pair} pick={(k) => setSearch({ pair: k })} />
        )}
        {part === "section" && <SectionPart page={data} />}
        {part === "rules" && !making && <ApartPart page={data} />}
        {KINDS[part].length > 0 && (
          <Entered page={data} part={part} row={row} making={making} may={may} of={of} />
        )}
        {part === "near" && (
          <TakeIt
            at={`/api/aircraft/${aircraft.slug}`}
            of={[
              ["clearance/list", "Near pairs (CSV)"],
              ["clearance", "All of it (JSON)"],
            ]}
          />
        )}
      </section>
      <aside className="verdict-sheet" aria-label="Sheet">
        {part === "near" && pair ? (
          <PairSheet key={pair.key} page={data} pair={pair} may={may} />
        ) : row ? (
          <RowSheet
            key={row.slug}
            page={data}
            row={row}
            may={may}
            go={(slug) => of(slug ? { row: slug } : {})}
          />
        ) : (
          <Whole page={data} part={part} />
        )}
        <Caution>{data.caution}</Caution>
        {part === "zones" && <Caution>{data.cautions[0]}</Caution>}
      </aside>
    </div>
  );
}

function Entered(p: {
  page: Page;
  part: Part;
  row: ClearanceRow | undefined;
  making: string;
  may: boolean;
  of: (more: Record<string, string>) => void;
}) {
  const kinds = p.page.kinds.filter((k) => KINDS[p.part].includes(k.id));
  const rows = p.page.results.filter((r) => KINDS[p.part].includes(r.kind));
  const making = kinds.find((k) => k.id === p.making);
  const once = (id: string) => p.page.once.includes(id) && rows.some((r) => r.kind === id);
  return (
    <>
      {p.may && (
        <div className="buttons new-rows">
          {kinds
            .filter((k) => !once(k.id))
            .map((k) => (
              <Button key={k.id} variant="outline-primary" onClick={() => p.of({ new: k.id })}>
                New: {k.title.toLowerCase()}
              </Button>
            ))}
        </div>
      )}
      {making && (
        <RowForm
          key={making.id}
          at="clearance"
          kind={making}
          rows={namesOf(p.page)}
          names={NAMES}
          hint={HINTS[making.id] ?? ""}
          done={(slug) => p.of(slug ? { row: slug } : {})}
        />
      )}
      {rows.length === 0 && !making && FIRST[p.part] && <p>{FIRST[p.part]}</p>}
      <div className="row-tables">
        {kinds.map((k) => {
          const mine = rows.filter((r) => r.kind === k.id);
          return mine.length === 0 ? null : (
            <RowsOfKind
              key={k.id}
              kind={k}
              rows={mine}
              only={ONLY[k.id]}
              saidAs="Document"
              chosen={p.row?.slug}
              pick={(row) => p.of({ row })}
            />
          );
        })}
      </div>
      {p.may && p.part === "shapes" && kinds[0] && (
        <PasteTyped
          at="clearance/pasted"
          kind="shape"
          many="shapes"
          one="Shape"
          hint="Battery box"
          fields={kinds[0].fields}
        />
      )}
      {p.may && p.part === "rules" && kinds[0] && (
        <PasteTyped
          at="clearance/pasted"
          kind="rule"
          many="distances"
          one="Distance"
          hint="Control rod from fuel"
          fields={kinds[0].fields}
        />
      )}
    </>
  );
}

/** Of kinds that ask much: what tells one from another. */
const ONLY: Record<string, string[]> = {
  shape: ["sort", "form", "od", "on"],
  mover: ["from", "to", "slide_to", "follows", "carried"],
  zone: ["form", "kinds", "margin"],
  contact: ["a", "b", "protection", "due"],
};

/** What a field names: things, bodies, surfaces' controls are chosen, not typed. */
export const namesOf = (page: Page) => [
  ...page.things.map((t) => ({ kind: "thing", name: t.name })),
  ...page.bodies.map((name) => ({ kind: "body", name })),
];
export const NAMES: Record<string, string[]> = {
  of: ["thing"],
  on: ["body"],
  carried: ["body"],
};

/** The aircraft as a whole. */
function Whole({ page, part }: { page: Page; part: Part }) {
  const other = page.checks.filter((c) => !c.key.includes("|"));
  return (
    <>
      <h2 className="sheet-name">The aircraft as a whole</h2>
      {page.verdict && (
        <p className="verdict-line">
          <VerdictMark verdict={page.verdict as Verdict} big />
        </p>
      )}
      {page.checks.length === 0 && <p>Nothing is judged yet: nothing comes near anything else.</p>}
      <CheckList checks={other} all />
      {part === "known" && <Ranges page={page} />}
    </>
  );
}

/** From where to where each control is looked at, and by what. */
function Ranges({ page }: { page: Page }) {
  return (
    <>
      <h2 className="sheet-name">How far each control is looked at</h2>
      <ul className="checks">
        {page.axes.map((a) => (
          <li key={a.name}>
            <strong>{a.name}</strong>
            <span>
              {a.low} to {a.high}: {a.said}.
              {a.unsure.length > 0 && ` Not said: ${a.unsure.join(", ")}.`}
            </span>
          </li>
        ))}
      </ul>
    </>
  );
}
