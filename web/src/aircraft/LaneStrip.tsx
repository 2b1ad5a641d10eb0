/** The lane folded to a strip: bays in order and proportion, with their worst verdict. */
import type { Aircraft, Bay } from "../app/api";
import { VerdictMark } from "../marks/VerdictMark";
import { useBay } from "./useBay";

const SHORT: Record<string, string> = { "left wing": "Left wing", "right wing": "Right wing" };

export function LaneStrip({ aircraft }: { aircraft: Aircraft }) {
  const [bay, setBay] = useBay();
  const parts = (["fuselage", "fin", "left wing", "right wing"] as const).map((part) => ({
    part,
    bays: aircraft.bays.filter((b) => b.part === part),
  }));
  const step = (by: number) => {
    const all = aircraft.bays.map((b) => b.slug);
    const i = bay ? all.indexOf(bay) : -1;
    setBay(all[Math.max(0, Math.min(i + by, all.length - 1))] ?? null);
  };
  return (
    <div
      className="strip"
      role="group"
      aria-label="Bays, nose to tail"
      onKeyDown={(e) => {
        if (e.key === "ArrowRight") step(1);
        if (e.key === "ArrowLeft") step(-1);
      }}
    >
      {parts.map(({ part, bays }) => (
        <div key={part} className={`strip-part strip-${part.replace(" ", "-")}`}>
          {SHORT[part] && <span className="strip-name">{SHORT[part]}</span>}
          {bays.map((b) => (
            <button
              key={b.slug}
              type="button"
              aria-pressed={bay === b.slug}
              title={lids(b)}
              style={{ flexGrow: b.end_m - b.start_m }}
              className={`strip-bay ${lid(b, true)} ${lid(b, false)}`}
              onClick={() => setBay(bay === b.slug ? null : b.slug)}
            >
              <VerdictMark verdict={b.verdict} />
              <span>{shortName(b)}</span>
            </button>
          ))}
        </div>
      ))}
      {bay && (
        <button type="button" className="plain" onClick={() => setBay(null)}>
          All bays
        </button>
      )}
    </div>
  );
}

const shortName = (b: Bay) => b.name.replace(/^(Left|Right) wing /, "");

function lid(b: Bay, above: boolean): string {
  const here = b.closures.filter((c) => c.above === above);
  if (here.length === 0) return "";
  const state = here.every((c) => c.closed) ? "closed" : "open";
  return `lid-${above ? "above" : "below"}-${state}`;
}

export function lids(b: Bay): string {
  const said = b.closures.map(
    (c) =>
      `${c.name} (${c.permanent ? "permanent" : "removable"}): ${c.closed ? "closed" : "open"}`,
  );
  return `${b.name}. ${said.join("; ")}`;
}
