/** Bolts, nuts and washers in stock, and compounds with their dates: entered, corrected. */
import { useState } from "react";
import { useOutletContext } from "react-router";

import type { StockItem, Tin } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { useStock } from "../app/queries";
import { Change } from "../kit/Change";
import { TakeAway } from "../kit/TakeAway";
import { Waiting } from "../marks/Said";
import { VerdictMark } from "../marks/VerdictMark";
import { CompoundForm, StockForm } from "./StockForms";

const mm = (m: unknown) => (typeof m === "number" ? (m * 1000).toFixed(1) : "");

function said(s: StockItem): string {
  if (s.kind === "washer") return `${mm(s.data.thickness_m)} mm`;
  if (s.kind === "nut") return `height ${mm(s.data.height_m)} mm`;
  const drilled = s.data.drilled ? ", drilled" : "";
  return `grip ${mm(s.data.grip_m)}, length ${mm(s.data.length_m)} mm${drilled}`;
}

export function StockPart() {
  const { aircraft } = useOutletContext<FrameContext>();
  const stock = useStock(aircraft.slug);
  if (!stock.data) return <Waiting error={stock.error} />;
  const may = aircraft.may.includes("measure");
  return (
    <>
      <h2>In stock</h2>
      {stock.data.count === 0 && (
        <p>Nothing yet. Measure the bolts, nuts and washers in the drawers and enter them here.</p>
      )}
      <ul className="happened">
        {stock.data.results.map((s) => (
          <OneItem key={s.id} item={s} may={may} />
        ))}
      </ul>
      {may && (
        <details>
          <summary>Add to stock</summary>
          <StockForm />
        </details>
      )}
      <h2>Compounds</h2>
      {stock.data.compounds.length === 0 && (
        <p>None yet. Enter each tin and tube with the date printed on it: past it, it says so.</p>
      )}
      <ul className="happened">
        {stock.data.compounds.map((c) => (
          <OneTin key={c.id} tin={c} may={may} />
        ))}
      </ul>
      {may && (
        <details>
          <summary>Add a compound</summary>
          <CompoundForm />
        </details>
      )}
    </>
  );
}

function OneItem({ item, may }: { item: StockItem; may: boolean }) {
  const [open, setOpen] = useState(false);
  return (
    <li>
      <strong>{item.name}</strong> {item.kind} {item.thread && `${item.thread} `}
      <span className="num">{said(item)}</span>{" "}
      {may && <Change name={item.name} open={open} set={setOpen} />}
      {open && (
        <>
          <StockForm key={item.version} one={item} done={() => setOpen(false)} />
          <TakeAway what={item.name} at={`stock/${item.id}`} version={item.version} />
        </>
      )}
    </li>
  );
}

function OneTin({ tin, may }: { tin: Tin; may: boolean }) {
  const [open, setOpen] = useState(false);
  return (
    <li>
      <VerdictMark verdict={tin.decision === "use" ? "in" : "out"} /> <strong>{tin.name}</strong>{" "}
      {tin.batch && `batch ${tin.batch}, `}
      use before {tin.use_before}
      {tin.decision !== "use" && ` (${tin.decision})`}{" "}
      {may && <Change name={tin.name} open={open} set={setOpen} />}
      {open && (
        <>
          <CompoundForm key={tin.version} one={tin} done={() => setOpen(false)} />
          <TakeAway what={tin.name} at={`compounds/${tin.id}`} version={tin.version} />
        </>
      )}
    </li>
  );
}
