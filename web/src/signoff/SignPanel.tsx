/** Sense check, then signatures: who confirmed exactly what, and whether it still holds. */
import Button from "react-bootstrap/Button";
import { useState } from "react";
import { useOutletContext } from "react-router";

import { api, got, type Sheet, type SignState } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { useWrite } from "../app/useWrite";
import { useRefresh, useSignatures } from "../app/queries";
import { Caution, Said, Waiting } from "../marks/Said";
import { when } from "../marks/words";
import { EntryItem } from "./EntryItem";
import { Entry } from "../kit/Entry";
import { Choice, TextField } from "../kit/fields";
import "./signoff.css";

export function SignPanel({ slug, sheet }: { slug: string; sheet: Sheet }) {
  return (
    <div className="sign">
      <SensePart sheet={sheet} />
      <h2>Signatures</h2>
      <Signatures slug={slug} scope={`control:${sheet.slug}`} />
    </div>
  );
}

/** Signatures on one scope, and signing it. */
export function Signatures({ slug, scope }: { slug: string; scope: string }) {
  const signed = useSignatures(slug, scope);
  if (!signed.data) return <Waiting error={signed.error} />;
  return (
    <>
      <p className={signed.data.dual_ok ? "" : "quiet"}>Dual inspection: {signed.data.dual}</p>
      <ul className="entries">
        {signed.data.entries.map((e) => (
          <EntryItem key={e.seq} entry={e} />
        ))}
      </ul>
      {signed.data.why_not.map((w) => (
        <p key={w} className="quiet">
          {w}
        </p>
      ))}
      {signed.data.can.length > 0 && <SignForm slug={slug} scope={scope} state={signed.data} />}
    </>
  );
}

function SensePart({ sheet }: { sheet: Sheet }) {
  const { aircraft } = useOutletContext<FrameContext>();
  const { write, error, busy } = useWrite();
  const [right, setRight] = useState<boolean | null>(null);
  const [free, setFree] = useState<boolean | null>(null);
  const [note, setNote] = useState("");
  const last = sheet.sense_checks.at(-1);
  const can = aircraft.may.includes("measure") || aircraft.may.includes("inspect");
  const keep = async () => {
    const body = { right_way: right, free, note };
    if (!(await write(`controls/${sheet.slug}/sense-checks`, body, `sense check, ${sheet.name}`)))
      return;
    setRight(null);
    setFree(null);
    setNote("");
  };
  return (
    <>
      <h2>Sense check</h2>
      {last ? (
        <p>
          {last.text}: <strong>{last.right_way ? "right way" : "wrong way"}</strong>,{" "}
          {last.free ? "free over the whole travel" : "not free"}. Seen by {last.seen_by},{" "}
          {when(last.at)}. {last.note}
        </p>
      ) : (
        <p className="quiet">
          Not made in this round. Move the control over its whole travel and look.
        </p>
      )}
      {can && (
        <Entry
          label="Sense check"
          save={keep}
          className="inline-form sense"
          button="Keep what I saw"
          variant="outline-primary"
          off={busy || right === null || free === null}
          error={error}
        >
          <YesNo
            label={`${sheet.sense_check}?`}
            yes="Yes, seen"
            no="No"
            value={right}
            set={setRight}
          />
          <YesNo label="Free, stop to stop?" yes="Free" no="Not free" value={free} set={setFree} />
          <TextField label="Note" value={note} set={setNote} />
        </Entry>
      )}
    </>
  );
}

function YesNo(p: {
  label: string;
  yes: string;
  no: string;
  value: boolean | null;
  set: (v: boolean) => void;
}) {
  return (
    <fieldset>
      <legend>{p.label}</legend>
      <label className="tick">
        <input
          type="radio"
          name={p.label}
          checked={p.value === true}
          onChange={() => p.set(true)}
        />{" "}
        {p.yes}
      </label>
      <label className="tick">
        <input
          type="radio"
          name={p.label}
          checked={p.value === false}
          onChange={() => p.set(false)}
        />{" "}
        {p.no}
      </label>
    </fieldset>
  );
}

const WORDS = {
  done: "Sign as done",
  inspected: "Sign as inspected",
  refuse: "Refuse to sign",
} as const;

function SignForm({ slug, scope, state }: { slug: string; scope: string; state: SignState }) {
  const refresh = useRefresh(slug);
  const [doing, setDoing] = useState(state.can[0] ?? "refuse");
  const [password, setPassword] = useState("");
  const [reason, setReason] = useState("");
  const [error, setError] = useState<unknown>(null);
  // What was there when this was opened is what is signed: what changes under it is told first.
  const [looked, setLooked] = useState(state.seen);
  const changed = JSON.stringify(looked) !== JSON.stringify(state.seen);
  const act = state.can.includes(doing) ? doing : (state.can[0] ?? "refuse");
  const sign = async () => {
    try {
      await got(
        api.POST("/api/aircraft/{slug}/signatures/{scope}", {
          params: { path: { slug, scope } },
          body: { doing: act, password, reason, seen: looked },
        }),
      );
      setReason("");
      setError(null);
    } catch (e) {
      setError(e);
    }
    setPassword("");
    await refresh();
  };
  if (changed)
    return (
      <p className="stale-note" role="status">
        What is signed here changed since you opened it.{" "}
        <Button
          type="button"
          variant="outline-primary"
          onClick={() => {
            setLooked(state.seen);
            setError(null);
          }}
        >
          I have looked again
        </Button>
        <Said error={error} />
      </p>
    );
  return (
    <Entry label="Sign" save={sign}>
      {state.can.length > 1 && (
        <Choice
          label="As"
          value={act}
          set={(x) => setDoing(x as typeof doing)}
          options={state.can.map((c) => ({ value: c, word: WORDS[c] }))}
        />
      )}
      {act === "refuse" && <TextField label="Reason" value={reason} set={setReason} />}
      <label>
        Your password again
        <input
          className="form-control"
          type="password"
          autoComplete="current-password"
          value={password}
          onChange={(e) => setPassword(e.target.value)}
        />
      </label>
      <Button type="submit">{WORDS[act]}</Button>
      <Said error={error} />
      <Caution>
        A signature covers exactly what is recorded here now. Who may sign is set by local
        regulations; an inspector is never the person who did the work.
      </Caution>
    </Entry>
  );
}
