/** Which half-turns mend it: what to turn, what it leads to, and recording that it was done. */
import { useState } from "react";
import { useOutletContext } from "react-router";
import Button from "react-bootstrap/Button";

import type { Advice, Linkage, Sheet, Solved, WhatIf } from "../../app/api";
import type { FrameContext } from "../../app/Frame";
import { useAdvice } from "../../app/queries";
import { useWrite } from "../../app/useWrite";
import { Said } from "../../marks/Said";
import { TextField, Choice } from "../../kit/fields";
import { VerdictMark } from "../../marks/VerdictMark";
import { Why } from "../../marks/Why";
import { plain, positionWord, range, shown, when } from "../../marks/words";
import { Entry } from "../../kit/Entry";
import { number } from "../../kit/numbers";
import { fileOf } from "./useLinkageTrial";

type Props = {
  linkage: Linkage;
  solved: Solved;
  sheet: Sheet;
  side: string | null;
  showAfter: (lengths: Record<string, number> | null, stops?: Record<string, number>) => void;
  showing: boolean;
  tried: WhatIf | null;
};

export function AdvicePart(p: Props) {
  const { aircraft } = useOutletContext<FrameContext>();
  const [rodTol, setRodTol] = useState("");
  const [stopTol, setStopTol] = useState("");
  const outs = p.solved.travel.filter((t) => t.surface && t.stop);
  const output = outs.some((t) => t.output === p.side) ? (p.side ?? "") : "";
  const document = (p.tried?.document ?? null) as Record<string, never> | null;
  const asked = { output, rod_tol: rodTol, stop_tol: stopTol, document };
  const advice = useAdvice(aircraft.slug, p.sheet.slug, asked, outs.length > 0);
  const can = aircraft.may.includes("measure");
  return (
    <>
      <h1>{advice.data?.surface_name ?? p.sheet.name}: what to turn</h1>
      {outs.length === 0 && (
        <p>
          This control has no stop each way: its travel is set by its detents. Set its rods so that
          neutral and every detent come inside.
        </p>
      )}
      {p.tried && <p className="trial-note">For the trial, as if it were built so.</p>}
      <Said error={advice.error} />
      {advice.data && <Found a={advice.data} {...p} can={can} />}
      {outs.length > 0 && (
        <details>
          <summary>How far the built aircraft may be from the drawing</summary>
          <div className="inline-form">
            <TextField label="Rod lengths, ±" value={rodTol} set={setRodTol} hint="3 mm" />
            <TextField label="Stops, ±" value={stopTol} set={setStopTol} hint="2°" />
          </div>
        </details>
      )}
      {can && <ByHand linkage={p.linkage} sheet={p.sheet} />}
      <Made linkage={p.linkage} />
    </>
  );
}

function Found(p: Props & { a: Advice; can: boolean }) {
  const { a } = p;
  const [done, setDone] = useState("");
  const { write, error, busy, pending } = useWrite();
  const changes = Object.fromEntries(a.changes.map((c) => [c.id, c.half_turns]));
  const record = async () => {
    const path = `controls/${p.sheet.slug}/linkage/adjustments` as const;
    const body = { version: p.linkage.version, changes, note: "as advised" };
    const answer = await write(path, body, `Turned: ${a.said}`);
    if (answer) {
      setDone("Recorded. A new round has begun: measure again what it moved.");
      p.showAfter(null);
    }
  };
  if (a.stop)
    return (
      <div className="stop-work" role="alert">
        <VerdictMark verdict="out" big said={a.stop} />
        <p>{a.said}</p>
      </div>
    );
  return (
    <>
      <p className={a.changes.length ? "advice-said" : "advice-quiet"} aria-live="polite">
        {done || a.said}
      </p>
      {a.suspicious && <p className="suspicious">{a.suspicious}</p>}
      {a.forecast.length > 0 && (
        <table className="asked forecast" tabIndex={0}>
          <thead>
            <tr>
              <th scope="col">Position</th>
              <th scope="col" className="num">
                Required
              </th>
              <th scope="col" className="num">
                Now
              </th>
              <th scope="col" className="num">
                After
              </th>
            </tr>
          </thead>
          <tbody>
            {a.forecast.map((f) => (
              <tr key={`${f.surface}/${f.position}`}>
                <th scope="row">
                  {f.surface_name}, {positionWord(f.position)}
                </th>
                <td className="num">{range(f.lo, f.hi, "°")}</td>
                <td className="num">
                  <VerdictMark verdict={f.before} /> {shown(f.measured_deg, "°")}
                </td>
                <td className="num">
                  {f.predicted_deg === null ? (
                    "–"
                  ) : (
                    <>
                      <VerdictMark verdict={f.after} /> {shown(f.predicted_deg, "°")}
                    </>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <ul className="advice">
        {[...a.engagement, ...a.geometry].map((line) => (
          <li key={line}>{line}</li>
        ))}
      </ul>
      {a.fit && <p className="source">{a.fit}</p>}
      {a.changes.length > 0 && (
        <div className="actions">
          <Button
            variant="outline-primary"
            onClick={() =>
              p.showing ? p.showAfter(null) : p.showAfter(a.after_lengths_mm, a.after_stops)
            }
          >
            {p.showing ? "Hide it again" : "Show it on the figure"}
          </Button>
          {p.can && !p.tried && (
            <Button disabled={busy || pending} onClick={() => void record()}>
              I have turned it: record
            </Button>
          )}
          <Why why={a.why} text="Why this turn?" />
        </div>
      )}
      <Said error={error} />
    </>
  );
}

/** Turns that nobody advised, or one taken back. */
function ByHand({ linkage, sheet }: { linkage: Linkage; sheet: Sheet }) {
  const items = [
    ...linkage.rods.filter((r) => r.per_half_turn_mm !== null).map((r) => r.id),
    ...linkage.stops.filter((s) => s.adjustable).map((s) => s.id),
  ];
  const [item, setItem] = useState("");
  const [turns, setTurns] = useState("");
  const [note, setNote] = useState("");
  const { write, error, busy, pending } = useWrite();
  const [bad, setBad] = useState("");
  if (!items.length) return null;
  const chosen = item || (items[0] ?? "");
  const warned = beyond(linkage, chosen, number(turns));
  const keep = async () => {
    const n = Number(turns.replace("−", "-"));
    if (!turns.trim() || !Number.isInteger(n)) {
      setBad("half-turns: must be a whole number, + longer or more travel");
      return;
    }
    setBad("");
    const path = `controls/${sheet.slug}/linkage/adjustments` as const;
    const body = { version: linkage.version, changes: { [chosen]: n }, note };
    if (await write(path, body, `Turned ${plain(chosen)} ${turns}`)) {
      setTurns("");
      setNote("");
    }
  };
  return (
    <details>
      <summary>I turned something else</summary>
      <Entry save={keep} error={error}>
        <Choice
          label="Rod or stop"
          value={chosen}
          set={setItem}
          options={items.map((i) => ({ value: i, word: plain(i) }))}
        />
        <TextField label="Half-turns, + longer" value={turns} set={setTurns} />
        <TextField label="Note" value={note} set={setNote} />
        <Button type="submit" disabled={busy || pending}>
          Record
        </Button>
        {warned && <p className="suspicious form-name">{warned}</p>}
        {bad && (
          <div className="said" role="alert">
            {bad}
          </div>
        )}
      </Entry>
    </details>
  );
}

/** What so many half-turns would leave outside, in words; nothing where they do not. */
function beyond(linkage: Linkage, item: string, n: number): string {
  const rod = linkage.rods.find((r) => r.id === item);
  const stop = fileOf(linkage).stops.find((s) => s.id === item);
  const turned = linkage.stops.find((s) => s.id === item)?.half_turns ?? 0;
  const least = rod ? rod.least : stop?.least === undefined ? null : stop.least - turned;
  const most = rod ? rod.most : stop?.most === undefined ? null : stop.most - turned;
  if (!n || least === null || most === null || (n >= least && n <= most)) return "";
  const left = `${signed(least)} to ${signed(most)} half-turns are left to turn`;
  return rod
    ? `That leaves an end of rod ${plain(item)} short of thread, or bottomed: ${left}. Do not fly it so.`
    : `Stop ${plain(item)} cannot be turned so far: ${left}.`;
}

const signed = (n: number): string => (n > 0 ? `+${n}` : String(n).replace("-", "−"));

function Made({ linkage }: { linkage: Linkage }) {
  if (!linkage.adjustments.length) return null;
  return (
    <>
      <h2>Turned so far</h2>
      <ul>
        {linkage.adjustments.map((a) => (
          <li key={a.id} className="way">
            {a.said}{" "}
            <span className="quiet">
              {a.by}, {when(a.at)}; began round {a.round}
              {a.note && `; ${a.note}`}
            </span>
          </li>
        ))}
      </ul>
    </>
  );
}
