/** One joint: what is asked, what was done, the verdict, what to do next, the record. */
import Button from "react-bootstrap/Button";
import { useState } from "react";
import { Link, useNavigate, useOutletContext } from "react-router";

import type { Joint, Verdict } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { useInstruments } from "../app/queries";
import { useWrite } from "../app/useWrite";
import { Choice, TextField } from "../kit/fields";
import { Caution, Said } from "../marks/Said";
import { VerdictMark } from "../marks/VerdictMark";
import { capital, when } from "../marks/words";
import { Why } from "../marks/Why";
import { LeaveLoose } from "../record/LeaveLoose";
import { Photos } from "../record/Photos";
import { JointForm } from "./JointForm";
import { StackFigure } from "./StackFigure";
import { Entry } from "../kit/Entry";
import { TakeAway } from "../kit/TakeAway";
import { unless } from "../kit/unless";

const DEVICE: Record<string, string> = {
  cotter: "cotter pin",
  wire: "safety wire",
  tab: "tab washer",
  self_locking: "self-locking nut",
  adhesive: "threadlocker",
  none: "nothing",
  "": "not said",
};
const FORWARD = ["run down", "safetied", "sealed"];
const DO: Record<string, string> = {
  "run down": "Run down",
  sealed: "Witness mark is on",
  loosened: "Loosened",
  "mark broken": "Mark is broken",
};

export function JointSheet({ joint }: { joint: Joint }) {
  const { aircraft } = useOutletContext<FrameContext>();
  const [editing, setEditing] = useState(false);
  const navigate = useNavigate();
  const may = aircraft.may.includes("measure");
  const bay = aircraft.bays.find((b) => b.slug === joint.bay);
  if (editing)
    return (
      <>
        <JointForm key={joint.version} joint={joint} done={() => setEditing(false)} />
        <TakeAway
          what={joint.name}
          at={`joints/${joint.slug}`}
          version={joint.version}
          hint="Only a joint that nothing was done to can go."
          done={() => navigate(`/a/${aircraft.slug}/joints`)}
        />
      </>
    );
  return (
    <>
      <h2 className="sheet-name">{joint.name}</h2>
      <p className="quiet">
        {joint.part}
        {bay && (
          <>
            {joint.part && " · "}
            <Link to={`/a/${aircraft.slug}/bays/${bay.slug}`}>{bay.name}</Link>
          </>
        )}
        {joint.point_mm && ` · ${joint.point_mm.map((x) => Math.round(x)).join(", ")} mm`}
      </p>
      <p className="verdict-line">
        <VerdictMark
          verdict={joint.verdict as Verdict}
          big
          said={joint.verdict === "not measured" ? "Not final" : undefined}
        />
      </p>
      <p className="joint-state">
        <strong>{capital(joint.state)}</strong>
        {joint.why.length > 0 ? `: ${joint.why.join(", ")}` : ", final"}
      </p>
      {joint.checks.map((c) => (
        <p key={c.what} className="check">
          <VerdictMark verdict={c.verdict as Verdict} /> {c.said}{" "}
          {c.rule && <Why why={{ rule: c.rule, inputs: c.inputs }} text="Why?" />}
        </p>
      ))}
      {may && <DoNext joint={joint} />}
      <Asked joint={joint} />
      {joint.stack.length > 0 && <StackFigure joint={joint} />}
      {may && (
        <p>
          <button type="button" className="plain" onClick={() => setEditing(true)}>
            Change what it needs
          </button>
        </p>
      )}
      {may && <LeaveLoose joint={joint.slug} />}
      <Done joint={joint} may={may} />
      <h2>Photos</h2>
      <Photos
        of={{ target: "joint", target_id: joint.slug }}
        target="joint"
        targetId={joint.slug}
        shows="witness mark"
      />
    </>
  );
}

function DoNext({ joint }: { joint: Joint }) {
  const { aircraft } = useOutletContext<FrameContext>();
  const instruments = useInstruments(aircraft.slug);
  const { write, error, busy } = useWrite();
  const wrenches = instruments.data?.results.filter((i) => i.kind === "torque") ?? [];
  const [value, setValue] = useState("");
  const [wrench, setWrench] = useState<string | null>(null);
  const key = wrench ?? String(wrenches[0]?.id ?? "");
  const did = async (doing: string) => {
    const torque = doing === "torqued";
    const body = {
      doing,
      value: torque ? value : "",
      instrument: torque && value && key ? Number(key) : null,
    };
    if (await write(`joints/${joint.slug}/events`, body, `${joint.name}: ${doing}`))
      setValue(unless(value, ""));
  };
  const [first, ...rest] = joint.can;
  const word = (doing: string) =>
    doing === "safetied" ? `${capital(DEVICE[joint.device] ?? "Safety")} is in` : (DO[doing] ?? "");
  return (
    <section aria-label="Do next">
      <h2>Do next</h2>
      {joint.can.includes("torqued") && (
        <Entry label="Torque" save={() => void did("torqued")} button="Torqued" off={busy}>
          <TextField
            label={joint.torque_asked ? `Torque, asked ${joint.torque_asked}` : "Torque"}
            value={value}
            set={setValue}
            hint="35 in-lb"
          />
          <Choice
            label="Wrench"
            value={key}
            set={setWrench}
            options={[
              ...wrenches.map((w) => ({
                value: String(w.id),
                word: w.overdue ? `${w.name} (calibration overdue)` : w.name,
              })),
              { value: "", word: "not named" },
            ]}
          />
        </Entry>
      )}
      <div className="buttons">
        {[first, ...rest]
          .filter((d): d is string => d !== undefined && d !== "torqued")
          .map((d) => (
            <Button
              key={d}
              variant={d === first && FORWARD.includes(d) ? "primary" : "outline-primary"}
              disabled={busy}
              onClick={() => void did(d)}
            >
              {word(d)}
            </Button>
          ))}
      </div>
      <Said error={error} />
      <CautionFor joint={joint} />
    </section>
  );
}

function CautionFor({ joint }: { joint: Joint }) {
  if (joint.fit?.inputs && joint.checks.some((c) => c.what === "fit" && c.verdict !== "in"))
    return (
      <Caution>
        It must turn. Do not press it in: ream or polish first, then try it by hand.
      </Caution>
    );
  if (joint.rotating)
    return <Caution>A pivot bolt held by friction alone can back off in flight.</Caution>;
  return (
    <Caution>
      A nut that stops on the shank feels tight and clamps nothing. Look for the shank, count the
      threads. The kit maker’s data come first.
    </Caution>
  );
}

function Asked({ joint }: { joint: Joint }) {
  const rows = [
    ["Torque", joint.torque_typed && `${joint.torque_typed}${drag(joint)}`],
    [
      "From",
      joint.torque_source &&
        `${joint.torque_source}${joint.torque_page ? `, page ${joint.torque_page}` : ""}`,
    ],
    ["Secured by", DEVICE[joint.device]],
    ["Bolt", joint.bolt_name],
    ["Nut", joint.nut_name],
    ["Belongs to", joint.control],
    ["Compound", joint.compound],
    ["Witness mark", joint.witness_needed ? "needed" : ""],
    ["Access later", joint.needs_access ? "needed" : ""],
  ].filter(([, v]) => v);
  return (
    <>
      <h2>What is asked</h2>
      <dl className="facts">
        {rows.map(([name, value]) => (
          <div key={name}>
            <dt>{name}</dt>
            <dd>{value}</dd>
          </div>
        ))}
      </dl>
      {joint.torque_typed && (
        <p className="quiet">Confirm against the current edition of the document.</p>
      )}
    </>
  );
}

const drag = (j: Joint) =>
  j.drag_nm ? `, plus ${j.drag_nm.toFixed(2)} N·m of the nut’s drag` : "";

function Done({ joint, may }: { joint: Joint; may: boolean }) {
  const { write, error } = useWrite();
  const last = joint.events.filter((e) => e.stands).at(-1);
  return (
    <>
      <h2>What was done</h2>
      {joint.events.length === 0 && <p className="quiet">Nothing yet.</p>}
      <ul className="happened">
        {joint.events.toReversed().map((e) => (
          <li key={e.id} className={e.stands ? "" : "undone"}>
            <strong>{capital(e.doing)}</strong>
            {e.as_typed && ` ${e.as_typed}`}
            {e.instrument && `, ${e.instrument}`}
            {!e.stands && " (taken back)"}
            <p className="quiet">
              {e.by}, {when(e.at)}{" "}
              {may && e === last && (
                <button
                  type="button"
                  className="plain"
                  onClick={() =>
                    void write(`joints/${joint.slug}/undo`, { event: e.id }, `undo ${e.doing}`)
                  }
                >
                  Take back
                </button>
              )}
            </p>
          </li>
        ))}
      </ul>
      <Said error={error} />
    </>
  );
}
