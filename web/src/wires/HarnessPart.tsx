/** The harness: circuits, wires, connectors and bundles as tables, one of them on the right. */
import { useOutletContext, useSearchParams } from "react-router";
import Button from "react-bootstrap/Button";

import type { HarnessPage, HarnessRow } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { useHarness } from "../app/queries";
import { RowName } from "../kit/RowName";
import { TakeIt } from "../kit/TakeIt";
import { Caution, Waiting } from "../marks/Said";
import { capital, plural } from "../marks/words";
import { HarnessForm } from "./HarnessForm";
import { HarnessSheet } from "./HarnessSheet";
import { PasteWires } from "./PasteWires";
import { WireTable } from "./WireTable";

const KINDS = ["circuit", "wire", "connector", "bundle", "bus"] as const;

export function HarnessPart({ children }: { children: React.ReactNode }) {
  const { aircraft } = useOutletContext<FrameContext>();
  const [search, setSearch] = useSearchParams();
  const harness = useHarness(aircraft.slug);
  const page = harness.data;
  const rows = page?.results ?? [];
  const making = search.get("new") ?? "";
  const wanted = search.get("row") ?? rows[0]?.slug ?? "";
  const row = making ? undefined : rows.find((r) => r.slug === wanted);
  const may = aircraft.may.includes("measure");
  const go = (slug: string) => setSearch(slug ? { part: "harness", row: slug } : {});
  return (
    <div className="subject">
      <section className="figure" aria-label="Harness">
        <h1 className="visually-hidden">Harness</h1>
        {children}
        {!page && <Waiting error={harness.error} />}
        {page && <Progress page={page} />}
        {may && page && (
          <div className="buttons new-rows">
            {KINDS.map((k) => (
              <Button
                key={k}
                variant="outline-primary"
                onClick={() => setSearch({ part: "harness", new: k })}
              >
                New {k}
              </Button>
            ))}
          </div>
        )}
        {page && making && <HarnessForm key={making} page={page} kind={making} done={go} />}
        {page && rows.length === 0 && !making && (
          <p>
            Nothing yet. Enter a circuit with what it draws and what protects it; then its
            connectors and its wires. Gauge, protector, open pins and what is left to do follow.
          </p>
        )}
        <div className="row-tables">
          {page &&
            (["circuit", "connector", "bundle", "bus"] as const).map((k) => (
              <RowTable
                key={k}
                kind={k}
                rows={rows.filter((r) => r.kind === k)}
                chosen={row?.slug}
                pick={go}
              />
            ))}
          {page && (
            <WireTable
              rows={rows.filter((r) => r.kind === "wire")}
              steps={page.steps}
              chosen={row?.slug}
              pick={go}
            />
          )}
        </div>
        {may && page && rows.some((r) => r.kind === "circuit") && <PasteWires page={page} />}
        {rows.length > 0 && (
          <TakeIt
            at={`/api/aircraft/${aircraft.slug}/harness`}
            of={[
              ["labels.pdf", "Labels with codes (PDF)"],
              ["lists/labels", "Labels (CSV)"],
              ["lists/cut-list", "What to cut and order (CSV)"],
            ]}
          />
        )}
        {page && !row && <Caution>{page.caution}</Caution>}
      </section>
      <aside className="verdict-sheet" aria-label="Sheet">
        {page && row && <HarnessSheet key={row.slug} page={page} row={row} may={may} go={go} />}
        {page && row && <Caution>{page.caution}</Caution>}
      </aside>
    </div>
  );
}

/** How much of it is really done: never 100 % while anything is open. */
function Progress({ page }: { page: HarnessPage }) {
  const p = page.progress;
  if (!p) return null;
  return (
    <p className="answer-line">
      <strong>{p.percent} %</strong> done;{" "}
      {p.open ? `${p.open} of ${plural(p.wires, "wire")} still open` : "nothing is open"}
    </p>
  );
}

const TITLES = { circuit: "Circuits", connector: "Connectors", bundle: "Bundles", bus: "Buses" };

function RowTable(p: {
  kind: keyof typeof TITLES;
  rows: HarnessRow[];
  chosen: string | undefined;
  pick: (slug: string) => void;
}) {
  if (!p.rows.length) return null;
  return (
    <table className="asked sheets-table" tabIndex={0}>
      <thead>
        <tr>
          <th scope="col">{TITLES[p.kind]}</th>
          <th scope="col" className="num">
            Done
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
            <td className="num">{r.progress ? `${r.progress.percent} %` : "–"}</td>
            <td>{worst(r)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** The worst of a row in words, and how many more there are. */
function worst(r: HarnessRow): string {
  const bad = r.checks.filter((c) => !["in", "accepted"].includes(c.verdict));
  const first = bad.find((c) => c.verdict === r.verdict) ?? bad[0];
  if (!first) return "nothing";
  const more = bad.length > 1 ? ` And ${bad.length - 1} more.` : "";
  const about =
    first.said.startsWith(first.what) || first.what === r.name
      ? ""
      : `${short(first.what, r.name)}: `;
  return capital(`${about}${first.said}${more}`);
}

const short = (what: string, name: string) =>
  what.startsWith(`${name}: `) ? what.slice(name.length + 2) : what;
