/** Tension by sound: a recording, its spectrum with the picked tones, and what it means. */
import { useRef, useState } from "react";
import Button from "react-bootstrap/Button";
import { useOutletContext } from "react-router";

import { type Heard, newKey, Problem, tokenNow } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { useRefresh } from "../app/queries";
import { TextField, Tick } from "../kit/fields";
import { Said } from "../marks/Said";
import { Why } from "../marks/Why";
import { shown } from "../marks/words";
import type { PanelProps } from "./MeasurePanels";
import { SpectrumFigure } from "./SpectrumFigure";
import { force } from "./units";
import { recordPluck } from "./wav";

const MOST_MB = 16;

async function sent<T>(path: string, form: FormData): Promise<T> {
  const answer = await fetch(path, {
    method: "POST",
    body: form,
    headers: { "X-CSRFToken": tokenNow(), "Idempotency-Key": newKey() },
  }).catch(() => {
    throw new Problem(0, "No connection. The recording is still here: send it again.");
  });
  const text = await answer.text();
  if (!answer.ok) throw Problem.of(answer.status, text);
  return JSON.parse(text) as T;
}

export function PluckPanel(p: PanelProps) {
  const { aircraft, session } = useOutletContext<FrameContext>();
  const refresh = useRefresh(aircraft.slug);
  const [span, setSpan] = useState("");
  const [clear, setClear] = useState(false);
  const [file, setFile] = useState<File | null>(null);
  const [heard, setHeard] = useState<Heard | null>(null);
  const [confirmed, setConfirmed] = useState(false);
  const [progress, setProgress] = useState<number | null>(null);
  const [busy, setBusy] = useState(false);
  const [error, setError] = useState<unknown>(null);
  const [kept, setKept] = useState(false);
  const input = useRef<HTMLInputElement>(null);
  const path = `/api/aircraft/${aircraft.slug}/controls/${p.cables.control}/cables`;
  const formOf = (f: File, frequency = "") => {
    const form = new FormData();
    form.set("file", f);
    form.set("side", p.side);
    form.set("method", "pluck");
    form.set("temperature", p.temperature);
    form.set("typed.span", span);
    form.set("typed.clear", clear ? "yes" : "");
    form.set("typed.frequency", frequency);
    form.set("typed.confirmed", confirmed ? "yes" : "");
    return form;
  };
  const hear = async (f: File, frequency = "") => {
    setFile(f);
    setKept(false);
    setConfirmed(false);
    if (f.size > MOST_MB * 1e6) {
      setHeard(null);
      setError(
        new Problem(422, `file: is over ${MOST_MB} MB: a few seconds around one pluck are enough`),
      );
      return;
    }
    setBusy(true);
    try {
      setHeard(await sent<Heard>(`${path}/hear`, formOf(f, frequency)));
      setError(null);
    } catch (e) {
      setHeard(null);
      setError(e);
    }
    setBusy(false);
  };
  const keep = async () => {
    if (!file || !heard) return;
    setBusy(true);
    try {
      await sent(`${path}/readings`, formOf(file, String(heard.frequency_Hz)));
      setError(null);
      setKept(true);
      setHeard(null);
      setFile(null);
      await refresh();
    } catch (e) {
      setError(e);
    }
    setBusy(false);
  };
  const record = async () => {
    setProgress(0);
    try {
      await hear(await recordPluck(setProgress));
    } catch (e) {
      setError(
        e instanceof Problem
          ? e
          : new Problem(422, "The microphone cannot be used here: record elsewhere, choose a WAV."),
      );
    }
    setProgress(null);
  };
  /** The demo's stand-in: how the simulated cable sounds. */
  const madeUp = async () => {
    const query = new URLSearchParams({ side: p.side, span });
    const answer = await fetch(`${path}/made-up.wav?${query.toString()}`);
    if (answer.ok) await hear(new File([await answer.blob()], "pluck.wav"));
    else setError(Problem.of(answer.status, await answer.text()));
  };
  const ready = span.trim() !== "" && clear;
  return (
    <>
      <p className="quiet">
        Pluck the longest free span at its middle, once, hold the microphone near it, and let it
        ring. Keep fans and compressors off.
      </p>
      <div className="inline-form">
        <TextField label="Free length of the span" value={span} set={setSpan} hint="1150 mm" />
        <Tick
          label="Nothing but cable in this span (no turnbuckle, no sleeve)"
          value={clear}
          set={setClear}
        />
        <Button type="button" disabled={!ready || progress !== null} onClick={() => void record()}>
          {progress === null ? "Record 5 s" : `Recording ${Math.round(progress * 100)} %`}
        </Button>
        <Button
          type="button"
          variant="outline-primary"
          disabled={!ready || busy}
          onClick={() => input.current?.click()}
        >
          Choose a WAV
        </Button>
        <input
          ref={input}
          className="visually-hidden"
          type="file"
          accept=".wav,audio/wav,audio/x-wav"
          aria-label="Recording"
          disabled={!ready}
          onChange={(e) => {
            const f = e.target.files?.[0];
            if (f) void hear(f);
            e.target.value = "";
          }}
        />
        {session.demo_people.length > 0 && (
          <button
            type="button"
            className="plain"
            disabled={!ready || busy}
            onClick={() => void madeUp()}
          >
            Pluck the simulated cable
          </button>
        )}
      </div>
      {kept && <p role="status">Kept.</p>}
      <Said error={error} />
      {heard && (
        <>
          <SpectrumFigure heard={heard} />
          <p className="tried" role="status">
            <strong>
              {force(heard.tension_N, p.unit)} ± {force(2 * heard.u_N, p.unit)}
            </strong>{" "}
            from {shown(heard.frequency_Hz, " Hz", 2)}
            {heard.inferred && ", inferred from its multiples"}; a string would say{" "}
            {force(heard.ideal_N, p.unit)}, the stiff cable lies between{" "}
            {force(heard.low_N, p.unit)} and {force(heard.high_N, p.unit)}.{" "}
            <Why why={heard.why} text="Why?" />
          </p>
          {heard.confirm.length > 0 && (
            <div className="suspicious" role="alert">
              Not taken without you: {heard.confirm.join("; ")}.
              <Tick
                label="I heard this cable, and this is its tone"
                value={confirmed}
                set={setConfirmed}
              />
              {heard.alternatives_Hz.map((f) => (
                <button
                  key={f}
                  type="button"
                  className="plain"
                  onClick={() => file && void hear(file, String(f))}
                >
                  Take {shown(f, " Hz", 2)} instead
                </button>
              ))}
            </div>
          )}
          <Button
            type="button"
            disabled={busy || (heard.confirm.length > 0 && !confirmed)}
            onClick={() => void keep()}
          >
            Keep it
          </Button>
        </>
      )}
    </>
  );
}
