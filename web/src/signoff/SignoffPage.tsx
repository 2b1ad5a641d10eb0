/** Who has seen what, and is it still true? The ledger, and the check of it. */
import { useState } from "react";
import { Link, useOutletContext } from "react-router";

import { api, type Checked, got } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { useLedger } from "../app/queries";
import { Waiting } from "../marks/Said";
import { TextField } from "../kit/fields";
import { EntryItem } from "./EntryItem";
import { Entry } from "../kit/Entry";
import "./signoff.css";

export function SignoffPage() {
  const { aircraft } = useOutletContext<FrameContext>();
  const ledger = useLedger(aircraft.slug);
  const [checked, setChecked] = useState<Checked | null>(null);
  const [seq, setSeq] = useState("");
  const [hash, setHash] = useState("");
  const [error, setError] = useState<unknown>(null);
  if (!ledger.data) return <Waiting error={ledger.error} />;
  const check = async () => {
    setError(null);
    try {
      setChecked(
        await got(
          api.POST("/api/aircraft/{slug}/ledger/check", {
            params: { path: { slug: aircraft.slug } },
            body: { seq: seq ? Number(seq) : null, hash: hash.trim() },
          }),
        ),
      );
    } catch (e) {
      setChecked(null);
      setError(e);
    }
  };
  const stale = ledger.data.results.filter((e) => e.kind === "signature" && !e.fresh).length;
  return (
    <div className="signoff">
      <section aria-label="Ledger">
        <h1>Sign-off</h1>
        <p>
          {ledger.data.count} {ledger.data.count === 1 ? "entry" : "entries"}
          {stale > 0 && `, ${stale} stale on this page`}. Newest first.
        </p>
        {ledger.data.count === 0 && (
          <p>
            Nothing is signed yet. Measure a control until it is in, then sign its sheet under{" "}
            <Link to={`/a/${aircraft.slug}/controls`}>Controls</Link>.
          </p>
        )}
        <ul className="entries">
          {ledger.data.results.map((e) => (
            <EntryItem key={e.seq} entry={e} scope />
          ))}
        </ul>
      </section>
      <section className="verdict-sheet" aria-label="Check">
        <h2>Does it hold?</h2>
        <p>
          The head is entry {ledger.data.head.seq}. Write it down or print a sheet: it is the
          witness that shows a ledger cut off at its end.
        </p>
        <code className="hash">{ledger.data.head.hash}</code>
        <Entry label="Check the ledger" save={check} button="Check the ledger" error={error}>
          <TextField label="Witnessed entry number" value={seq} set={setSeq} hint="optional" />
          <TextField label="Its hash" value={hash} set={setHash} hint="optional" />
        </Entry>
        {checked && (
          <div role="status" className="checked">
            <strong>{checked.ok ? "Everything holds." : "It does not hold."}</strong>
            <p>
              {checked.entries} entries and {checked.facts} fact revisions checked.
            </p>
            <ul>
              {checked.faults.map((f) => (
                <li key={f.where + f.fault}>
                  <strong>{f.where}</strong>: {f.fault}
                </li>
              ))}
            </ul>
          </div>
        )}
        <p className="quiet">
          The ledger proves order and integrity, not identity: who was at the keyboard rests on
          sign-in.
        </p>
      </section>
    </div>
  );
}
