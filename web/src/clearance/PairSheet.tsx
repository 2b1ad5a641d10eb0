/** One pair: its verdict, drawn large at its worst, its film, and what can be done about it. */
import { useState } from "react";
import { useOutletContext } from "react-router";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";

import type { ClearanceFilm, ClearancePage, ClearancePair, Verdict } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { useFilm } from "../app/queries";
import { useWrite } from "../app/useWrite";
import { Entry } from "../kit/Entry";
import { TextField } from "../kit/fields";
import { Said, Waiting } from "../marks/Said";
import { VerdictMark } from "../marks/VerdictMark";
import { Why } from "../marks/Why";
import { Drawing } from "./Drawing";
import { about, linesOf, mm, type P3, VIEWS } from "./figures";
import { MoveIt } from "./MoveIt";

export function PairSheet(p: { page: ClearancePage; pair: ClearancePair; may: boolean }) {
  const { aircraft } = useOutletContext<FrameContext>();
  const film = useFilm(aircraft.slug, p.pair.gap === null ? "" : p.pair.key);
  const [moving, setMoving] = useState("");
  const { pair } = p;
  const movable = p.page.things.filter(
    (t) => (t.name === pair.a || t.name === pair.b) && !t.moves && !t.box,
  );
  const moved = movable.find((t) => t.name === moving);
  return (
    <>
      <h2 className="sheet-name">{pair.name}</h2>
      <p className="verdict-line">
        <VerdictMark
          verdict={pair.verdict as Verdict}
          big
          {...(pair.gap !== null && pair.gap <= 0 ? { said: "Touch" } : {})}
        />
      </p>
      <p className="clear-said">
        {pair.check?.said ?? `Not worked out: ${pair.why}.`}{" "}
        <Why why={pair.check?.why ?? null} text="Why?" />
      </p>
      {pair.rule_said && <p className="quiet">{pair.rule_said}</p>}
      {pair.gap !== null &&
        (film.data ? <Film key={pair.key} film={film.data} /> : <Waiting error={film.error} />)}
      {movable.length > 0 && p.may && (
        <div className="buttons">
          {movable.map((t) => (
            <Button
              key={t.key}
              variant="outline-primary"
              onClick={() => setMoving(moving === t.name ? "" : t.name)}
            >
              {moving === t.name ? `Leave ${t.name} where it is` : `Try ${t.name} elsewhere`}
            </Button>
          ))}
        </div>
      )}
      {moved && (
        <MoveIt
          key={moved.key + moved.lines.flat().join()}
          page={p.page}
          thing={moved}
          place={pair.place as P3}
          done={() => setMoving("")}
        />
      )}
      <Done pair={pair} may={p.may} />
      {p.may && pair.gap !== null && <Measure pair={pair} />}
      {p.may && pair.acceptable && <Accept pair={pair} />}
    </>
  );
}

/** Through the positions of what moves it; it begins at the worst and never runs by itself. */
function Film({ film }: { film: ClearanceFilm }) {
  const [axis, setAxis] = useState(0);
  const [at, setAt] = useState(-1);
  const reel = film.reels[axis];
  const frames = reel?.frames ?? [];
  const worst = frames.reduce((best, f, n) => (f.gap < (frames[best]?.gap ?? 1e9) ? n : best), 0);
  const n = at < 0 ? worst : at;
  const frame = at < 0 ? film.worst : (frames[n] ?? film.worst);
  const atWorst = at < 0 || n === worst;
  const place: P3 = [0, 1, 2].map((k) => ((film.on_a[k] ?? 0) + (film.on_b[k] ?? 0)) / 2) as P3;
  const half = Math.max(
    60,
    2.2 * Math.max(film.od_a, film.od_b),
    Math.abs(film.pair.gap ?? 0) * 1.4,
  );
  const kinds = { a: film.pair.a, b: film.pair.b };
  return (
    <section aria-label="Film" className="clear-film">
      <p className="clear-now">
        <strong>{frame.gap <= 0 ? "Touch" : `${mm(frame.gap)} mm`}</strong>{" "}
        {reel && (
          <span>
            {reel.name} {at < 0 ? "at its worst" : frame.said}
          </span>
        )}
      </p>
      {film.reels.length > 1 && (
        <div className="control-sides" role="group" aria-label="What moves">
          {film.reels.map((r, i) => (
            <button
              key={r.axis}
              type="button"
              className="plain"
              aria-pressed={i === axis}
              onClick={() => {
                setAxis(i);
                setAt(-1);
              }}
            >
              {r.name}
            </button>
          ))}
        </div>
      )}
      {reel && (
        <label className="clear-slide">
          {reel.name}: {frames[0]?.said} to {frames.at(-1)?.said}
          <Form.Range
            min={0}
            max={frames.length - 1}
            step={1}
            value={n}
            aria-valuetext={`${frame.said || "at its worst"}: ${mm(frame.gap)} mm`}
            onChange={(e) => setAt(Number(e.target.value))}
          />
          <Strip gaps={frames.map((f) => f.gap)} rule={film.pair.rule ?? 0} now={n} />
        </label>
      )}
      {reel && at >= 0 && (
        <button type="button" className="plain" onClick={() => setAt(-1)}>
          Back to the worst
        </button>
      )}
      <div className="clear-close">
        {VIEWS.map((view) => (
          <Drawing
            key={view}
            view={view}
            window={about(view, place, half, 1.35)}
            label={`Close up, ${view}: ${mm(frame.gap)} mm`}
            drawn={[
              {
                key: "a",
                kind: "other",
                od: film.od_a,
                lines: linesOf(frame.a),
                state: "one",
                name: kinds.a,
              },
              {
                key: "b",
                kind: "other",
                od: film.od_b,
                lines: linesOf(frame.b),
                state: "two",
                name: kinds.b,
                box: film.od_b === 0,
              },
            ]}
            gap={atWorst ? [film.on_a as P3, film.on_b as P3] : undefined}
          />
        ))}
      </div>
      <p className="clear-key">
        <span className="one">{kinds.a}</span> <span className="two">{kinds.b}</span>
      </p>
      {reel?.said && <p className="quiet">Looked at from stop to stop and beyond: {reel.said}.</p>}
    </section>
  );
}

/** The gap over the whole film; below the line it is too near. */
function Strip(p: { gaps: number[]; rule: number; now: number }) {
  const top = Math.max(p.rule * 1.5, ...p.gaps, 1);
  const low = Math.min(0, ...p.gaps);
  const y = (g: number) => 40 - ((g - low) / (top - low)) * 38;
  const x = (n: number) => 2 + (n / Math.max(p.gaps.length - 1, 1)) * 296;
  return (
    <svg viewBox="0 0 300 42" className="clear-strip" aria-hidden="true" preserveAspectRatio="none">
      <path className="strip-near" d={`M0 ${y(p.rule)}H300V${y(low)}H0z`} />
      <path className="strip-zero" d={`M0 ${y(0)}H300`} />
      <path
        className="strip-gap"
        d={p.gaps.map((g, n) => `${n ? "L" : "M"}${x(n).toFixed(1)} ${y(g).toFixed(1)}`).join("")}
      />
      <path className="strip-now" d={`M${x(p.now).toFixed(1)} 0V42`} />
    </svg>
  );
}

function Done({ pair, may }: { pair: ClearancePair; may: boolean }) {
  const { write, error, busy } = useWrite();
  if (pair.events.length === 0) return null;
  return (
    <>
      <ul className="done-list" aria-label="Done to it">
        {pair.events.map((e, n) => (
          <li key={e.id}>
            {e.said} <span className="quiet">{e.by}</span>{" "}
            {may && n === 0 && (
              <button
                type="button"
                className="plain"
                disabled={busy}
                onClick={() =>
                  void write(`clearance/pairs/${e.id}/undo` as const, {}, "Taken back")
                }
              >
                Take back
              </button>
            )}
          </li>
        ))}
      </ul>
      <Said error={error} />
    </>
  );
}

const BLANK = { mitigation: "", reason: "", gap: "", u: "", at: "", note: "" };

function Measure({ pair }: { pair: ClearancePair }) {
  const { write, error, busy } = useWrite();
  const [v, setV] = useState({ gap: "", u: "", at: "" });
  const save = async () => {
    const body = { ...BLANK, doing: "measured" as const, a: pair.a, b: pair.b, ...v };
    if (await write("clearance/pairs", body, `Gap ${pair.name}`)) setV({ gap: "", u: "", at: "" });
  };
  return (
    <details className="clear-do">
      <summary>Measure it with a feeler or gauge</summary>
      <Entry label="Measured by hand" save={save} button="Keep the gap" off={busy} error={error}>
        <p>
          Move every control by hand through its whole travel and take the smallest gap you find. It
          counts before the drawing where it is surer.
        </p>
        <TextField
          label="Smallest gap *"
          value={v.gap}
          set={(gap) => setV({ ...v, gap })}
          hint="18 mm"
        />
        <TextField label="Good to ± *" value={v.u} set={(u) => setV({ ...v, u })} hint="0.5 mm" />
        <TextField
          label="Where, at which position"
          value={v.at}
          set={(at) => setV({ ...v, at })}
          hint="left pedal on its stop"
        />
      </Entry>
    </details>
  );
}

function Accept({ pair }: { pair: ClearancePair }) {
  const { write, error, busy } = useWrite();
  const [v, setV] = useState({ mitigation: "", reason: "" });
  const save = async () => {
    const body = { ...BLANK, doing: "accepted" as const, a: pair.a, b: pair.b, ...v };
    await write("clearance/pairs", body, `Accepted ${pair.name}`);
  };
  return (
    <details className="clear-do">
      <summary>Accept it knowingly</summary>
      <Entry label="Accept" save={save} button="Accept" off={busy} error={error}>
        <p>
          Surely apart and surely nearer than the distance: that may be accepted with your name, for
          this geometry only. Whatever is changed of it ends that.
        </p>
        <TextField
          label="What keeps it from rubbing *"
          value={v.mitigation}
          set={(mitigation) => setV({ ...v, mitigation })}
          hint="clamped both sides"
          sentence
        />
        <TextField
          label="Why that is good enough *"
          value={v.reason}
          set={(reason) => setV({ ...v, reason })}
          sentence
        />
      </Entry>
    </details>
  );
}
