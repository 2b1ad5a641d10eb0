/** Is each end made, gauged and loaded, each turnbuckle locked, and nothing left off for good? */
import { useState } from "react";
import Button from "react-bootstrap/Button";
import { useOutletContext } from "react-router";

import type { Cables, CableSide } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { useWrite } from "../app/useWrite";
import { Choice, Fields, same, TextField } from "../kit/fields";
import { Caution, Said } from "../marks/Said";
import { CheckList } from "../marks/CheckList";
import { CableForm } from "./CableForm";
import { mm, force, unitOf } from "./units";
import { Entry } from "../kit/Entry";

const PARTS = ["ends", "turnbuckle", "cable"];

export function EndsPart({ cables }: { cables: Cables }) {
  const { aircraft } = useOutletContext<FrameContext>();
  const may = aircraft.may.includes("measure");
  const change = aircraft.may.includes("change facts");
  return (
    <div className="subject">
      <section className="figure" aria-label="Ends and locks">
        {cables.sides.map((s) => (
          <section key={s.side} className="one-cable" aria-label={s.name}>
            <h2>{s.name}</h2>
            <p className="quiet">
              {s.cable}, {mm(s.diameter_m, 2)}; breaks at{" "}
              {force(s.breaking_N, unitOf(cables.document))} (MIL-DTL-83420 as in AC 43.13-1B ch. 7;
              confirm against the current edition).{" "}
              {s.measured_stiffness
                ? "Stiffness measured."
                : "Stiffness assumed ±40 %; measure to improve."}
            </p>
            <CableFigure side={s} />
            {may && <Turnbuckle cables={cables} side={s} />}
            {may && s.slide_on.length > 0 && <SlideOn cables={cables} side={s} />}
            {may && <Work cables={cables} side={s} />}
            {change && <CableForm key={cables.version} cables={cables} side={s.side} />}
          </section>
        ))}
        <Done cables={cables} may={may} />
      </section>
      <section className="verdict-sheet" aria-label="What stands open">
        <h1>{cables.name}: ends and locks</h1>
        <CheckList checks={cables.checks.filter((c) => PARTS.includes(c.part))} />
        <Caution>
          {cables.caution} A cable that lets go under load whips: guard it, stand aside.
        </Caution>
      </section>
    </div>
  );
}

/** The cable from end to end with what is on it, in order; not to scale. */
function CableFigure({ side }: { side: CableSide }) {
  const items = side.slide_on;
  return (
    <svg
      className="cable-figure"
      viewBox="0 0 640 84"
      role="img"
      aria-label={`${side.name}, from end A to end B`}
    >
      <path className="cable-wire" d="M60 40H580" />
      {(["A", "B"] as const).map((end) => {
        const x = end === "A" ? 20 : 580;
        const pressed = side.pressed.includes(end) || !side.slide_on.length;
        return (
          <g key={end} className={pressed ? "cable-end" : "cable-end cable-end-open"}>
            <rect x={x} y="29" width="40" height="22" rx="3" />
            <text x={end === "A" ? 20 : 620} y="72" textAnchor={end === "A" ? "start" : "end"}>
              {end}: {side.ends[end]}
              {!pressed && ", open"}
            </text>
          </g>
        );
      })}
      {items.map((name, i) => {
        const x = 90 + ((i + 0.5) / items.length) * 300;
        const on = side.on.includes(name);
        return (
          <g key={name} className={on ? "cable-item" : "cable-item cable-item-missing"}>
            <rect x={x - 34} y="32" width="68" height="16" />
            <text x={x} y="22" textAnchor="middle">
              {name}
              {!on && ", not on"}
            </text>
          </g>
        );
      })}
      {side.showing && (
        <g className="cable-buckle">
          <rect x="450" y="27" width="70" height="26" />
          <path d="M438 40h12M520 40h12" />
          <text x="485" y="20" textAnchor="middle">
            {side.showing[0]} and {side.showing[1]} threads
          </text>
          <text x="485" y="45" textAnchor="middle">
            {side.safetied ? "locked" : "not locked"}
          </text>
        </g>
      )}
    </svg>
  );
}

function useEvent(cables: Cables) {
  const { write, error, busy, pending } = useWrite();
  const did = (doing: string, side: string, typed: Record<string, string>, label: string) =>
    write(`controls/${cables.control}/cables/events`, { doing, side, typed, note: "" }, label);
  return { did, error, off: busy || pending };
}

function Turnbuckle({ cables, side }: { cables: Cables; side: CableSide }) {
  const { did, error, off } = useEvent(cables);
  const [after, setAfter] = useState("");
  if (!side.showing) return null;
  return (
    <Entry
      save={() =>
        void did(
          side.safetied ? "unsafetied" : "safetied",
          side.side,
          side.safetied ? {} : { recheck_after: after },
          `${side.name}: lock`,
        )
      }
      button={side.safetied ? "Its lock was taken off" : "Turnbuckle safetied"}
      variant={side.safetied ? "outline-primary" : "primary"}
      off={off}
      error={error}
    >
      {!side.safetied && (
        <TextField
          label="Tension again after the first"
          value={after}
          set={setAfter}
          hint="10 h, from the maker"
        />
      )}
    </Entry>
  );
}

function SlideOn({ cables, side }: { cables: Cables; side: CableSide }) {
  const { did, error, off } = useEvent(cables);
  const [end, setEnd] = useState("A");
  const open = (["A", "B"] as const).filter((e) => !side.pressed.includes(e));
  return (
    <div className="slide-on">
      <p>
        Before an end is pressed:{" "}
        {side.slide_on
          .map((name) => (side.on.includes(name) ? `${name} is on` : `${name} NOT on`))
          .join(", ")}
        .
      </p>
      <div className="inline-form">
        {side.missing.length > 0 && (
          <Choice
            label="From end"
            value={end}
            set={setEnd}
            options={[
              { value: "A", word: "A" },
              { value: "B", word: "B" },
            ]}
          />
        )}
        {side.missing.map((name) => (
          <Button
            key={name}
            type="button"
            variant="outline-primary"
            disabled={off}
            onClick={() => void did("slid on", side.side, { item: name, end }, `${name} slid on`)}
          >
            {name} is on
          </Button>
        ))}
        {open.map((e) => (
          <Button
            key={e}
            type="button"
            disabled={off}
            onClick={() => void did("pressed", side.side, { end: e }, `End ${e} pressed`)}
          >
            End {e} is pressed
          </Button>
        ))}
      </div>
      <Said error={error} />
    </div>
  );
}

type FieldOf = readonly [key: string, label: string, hint: string];
const SLEEVE: FieldOf[] = [
  ["presses", "Presses made", "3"],
  ["presses_required", "Presses asked", "3"],
  ["after", "Size after each, with ; between", "8.70 mm; 8.72 mm; 8.70 mm"],
  ["go_max", "Gauge: at most", "8.80 mm"],
  ["go_min", "Gauge: at least", ""],
  ["u", "You read that to ±", "0.02 mm"],
];
const DEVIATION: FieldOf[] = [
  ["deviation_source", "Without a thimble after", "drawing, sheet"],
  ["deviation_reason", "because", ""],
];
const PROOF: FieldOf[] = [
  ["applied", "Load applied", "5400 N"],
  ["held", "Held, s", "185"],
  ["hold_required", "Your source asks, s", "180"],
  ["length_before", "Length before", "4100 mm"],
  ["length_loaded", "under load", "4153.5 mm"],
  ["length_after", "after", "4104 mm"],
  ["set_limit", "Set that your source permits", "6 mm"],
  ["mark_slip", "Slip of the paint marks", "0 mm"],
  ["preload", "Load for the first length", "50 N"],
];
const STRETCH: FieldOf[] = [
  ["length", "Length measured", "4100 mm"],
  ["load_low", "Low load", "200 N"],
  ["load_high", "High load", "1200 N"],
  ["stretch", "It stretches by", "10.5 mm"],
  ["u_load", "Loads to ± (k = 1)", "10 N"],
  ["u_stretch", "Stretch to ± (k = 1)", "0.3 mm"],
];

function Work({ cables, side }: { cables: Cables; side: CableSide }) {
  const sleeves = (["A", "B"] as const).filter((e) => side.ends[e]?.startsWith("sleeve"));
  return (
    <>
      {sleeves.map((e) => (
        <OneForm
          key={e}
          cables={cables}
          side={side.side}
          doing="sleeve"
          summary={`Gauge the sleeve at end ${e}`}
          fields={side.ends[e] === "sleeve without thimble" ? [...SLEEVE, ...DEVIATION] : SLEEVE}
          more={{ end: e }}
        />
      ))}
      <OneForm
        cables={cables}
        side={side.side}
        doing="proof"
        summary="Proof load"
        fields={PROOF}
        note={`60 % of ${force(side.breaking_N, "N")} is ${force(0.6 * side.breaking_N, "N")} (AC 43.13-1B ch. 7; confirm against the current edition).`}
      />
      <OneForm
        cables={cables}
        side={side.side}
        doing="stretch"
        summary="Measure its stiffness"
        fields={STRETCH}
      />
      <Inspect cables={cables} side={side.side} />
    </>
  );
}

function OneForm(p: {
  cables: Cables;
  side: string;
  doing: string;
  summary: string;
  fields: readonly FieldOf[];
  more?: Record<string, string>;
  note?: string;
}) {
  const { did, error, off } = useEvent(p.cables);
  const [v, setV] = useState<Record<string, string>>({});
  return (
    <details>
      <summary>{p.summary}</summary>
      {p.note && <p className="quiet">{p.note}</p>}
      <Entry
        save={() => {
          void did(p.doing, p.side, { ...v, ...p.more }, p.summary).then((done) => {
            if (done) setV({});
          });
        }}
        button="Keep"
        off={off}
        error={error}
      >
        <Fields of={p.fields} values={v} set={setV} />
      </Entry>
    </details>
  );
}

function Inspect({ cables, side }: { cables: Cables; side: string }) {
  const { did, error, off } = useEvent(cables);
  const [found, setFound] = useState("");
  const [due, setDue] = useState("");
  const [fit, setFit] = useState("");
  return (
    <details>
      <summary>Wear and broken wires</summary>
      <Entry
        save={() => {
          const typed = { found, next_due: due, fit };
          void did("inspected", side, typed, "Looked over").then((done) => {
            if (!done) return;
            setFound("");
            setFit("");
          });
        }}
        error={error}
      >
        <TextField label="Found" value={found} set={setFound} hint="no broken wires, no wear" />
        <TextField label="Next due" type="date" value={due} set={setDue} />
        <Choice
          label="Fit to stay"
          value={fit}
          set={setFit}
          options={[{ value: "", word: "not said" }, ...same("yes", "no")]}
        />
        <Button type="submit" disabled={off || !fit}>
          Keep
        </Button>
        <p className="quiet form-name">
          Pull a cloth along it, bend it where it runs over pulleys, look inside terminals.
        </p>
      </Entry>
    </details>
  );
}

/** What was done, newest first; the last can be taken back. */
export function Done({ cables, may }: { cables: Cables; may: boolean }) {
  const { write, error, busy, pending } = useWrite();
  const last = cables.events[0];
  if (!last) return null;
  return (
    <details>
      <summary>{cables.events.length} things done</summary>
      <ul className="rows">
        {cables.events.map((e) => (
          <li key={e.id}>
            <strong>
              {cables.sides.find((s) => s.side === e.side)?.name ?? cables.name}: {e.said}
            </strong>
            <span className="quiet">{e.note}</span>
            <span className="quiet">
              {e.by},{" "}
              {new Date(e.at).toLocaleString(undefined, {
                dateStyle: "medium",
                timeStyle: "short",
              })}{" "}
              {may && e.id === last.id && (
                <button
                  type="button"
                  className="plain"
                  disabled={busy || pending}
                  onClick={() =>
                    void write(
                      `controls/${cables.control}/cables/events/${e.id}/undo`,
                      {},
                      "Taken back",
                    )
                  }
                >
                  Take back
                </button>
              )}
            </span>
          </li>
        ))}
      </ul>
      <Said error={error} />
    </details>
  );
}
