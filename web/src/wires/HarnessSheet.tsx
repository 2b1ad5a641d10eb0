/** One row of the harness: how it stands, what follows from the others, what is done to it. */
import { useState } from "react";
import { Link, useOutletContext } from "react-router";

import type { HarnessPage, HarnessRow, Verdict } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { Change } from "../kit/Change";
import { TakeAway } from "../kit/TakeAway";
import { CheckList } from "../marks/CheckList";
import { VerdictMark } from "../marks/VerdictMark";
import { plural } from "../marks/words";
import { Signatures } from "../signoff/SignPanel";
import { ConnectorFace } from "./ConnectorFace";
import { BundleSection } from "./BundleSection";
import { CircuitDiagram } from "./CircuitDiagram";
import { HarnessForm } from "./HarnessForm";
import { FirstPower } from "./FirstPower";
import { Happened, Insulation, WireSteps } from "./WireSteps";

export function HarnessSheet(p: {
  page: HarnessPage;
  row: HarnessRow;
  may: boolean;
  go: (slug: string) => void;
}) {
  const { aircraft } = useOutletContext<FrameContext>();
  const [open, setOpen] = useState(false);
  const { row } = p;
  const names = new Map(aircraft.bays.map((b) => [b.slug, b.name]));
  const by = new Map(p.page.results.map((r) => [r.slug, r]));
  const wires = row.wires.map((w) => by.get(w)).filter((w) => w !== undefined);
  return (
    <>
      <h2 className="sheet-name">{row.name}</h2>
      <p className="quiet">{p.page.kinds.find((k) => k.id === row.kind)?.title}</p>
      {row.verdict && (
        <p className="verdict-line">
          <VerdictMark verdict={row.verdict as Verdict} big />
        </p>
      )}
      {row.progress && (
        <p>
          <strong>{row.progress.percent} %</strong> done, {row.progress.open} of{" "}
          {plural(row.progress.wires, "wire")} open
        </p>
      )}
      {row.kind === "wire" && <WireSteps row={row} steps={p.page.steps} may={p.may} />}
      {row.kind === "circuit" && (
        <CircuitDiagram circuit={row} wires={wires} all={p.page.results} pick={p.go} />
      )}
      {row.kind === "bus" && <FirstPower row={row} may={p.may} go={p.go} />}
      {row.kind === "connector" && <ConnectorFace row={row} />}
      <CheckList checks={row.checks.filter((c) => c.key !== `wire ${row.slug}`)} all />
      {row.kind === "circuit" && <Settings row={row} />}
      {row.kind === "circuit" && <Insulation row={row} may={p.may} />}
      {row.kind === "bus" && <Happened row={row} may={p.may} />}
      {row.kind === "bundle" && (
        <>
          <BundleSection row={row} pick={p.go} />
          <h2>What lies in it</h2>
          <ul className="happened">
            {wires.map((w) => (
              <li key={w.slug}>
                <button type="button" className="plain" onClick={() => p.go(w.slug)}>
                  {w.name}
                </button>{" "}
                {said(w)}
              </li>
            ))}
            {wires.length === 0 && <li>No wire names it yet.</li>}
          </ul>
        </>
      )}
      <h2>Where it is</h2>
      <p>
        {row.bays.length === aircraft.bays.length
          ? "Nobody said: it stands in every bay."
          : row.bays.map((b, i) => (
              <span key={b}>
                {i > 0 && ", "}
                <Link to={`/a/${aircraft.slug}/bays/${b}`}>{names.get(b) ?? b}</Link>
              </span>
            ))}
      </p>
      {row.kind === "circuit" && (
        <>
          <h2>Signatures</h2>
          <Signatures slug={aircraft.slug} scope={`circuit:${row.slug}`} />
        </>
      )}
      {p.may && <Change name={row.name} open={open} set={setOpen} />}
      {open && (
        <>
          <HarnessForm
            key={row.version}
            page={p.page}
            kind={row.kind}
            one={row}
            done={() => setOpen(false)}
          />
          <TakeAway
            what={row.name}
            at={`harness/rows/${row.slug}`}
            version={row.version}
            done={() => p.go("")}
          />
        </>
      )}
    </>
  );
}

/** What a circuit's device is set to: covered by its signatures. */
function Settings({ row }: { row: HarnessRow }) {
  const set = Array.isArray(row.typed.settings) ? (row.typed.settings as Setting[]) : [];
  if (!set.length) return null;
  return (
    <dl className="facts" aria-label="Settings of its device">
      {set.map((s) => (
        <div key={s.what}>
          <dt>{s.what}</dt>
          <dd>{s.is}</dd>
        </div>
      ))}
    </dl>
  );
}
type Setting = { what: string; is: string };

/** A wire in a few words. */
const said = (w: HarnessRow): string =>
  [
    w.typed.awg ? `AWG ${String(w.typed.awg)}` : "",
    String(w.typed.class ?? ""),
    String(w.typed.circuit ?? ""),
  ]
    .filter(Boolean)
    .join(", ");
