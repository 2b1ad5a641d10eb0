/** Other limits or another source for what is asked, with the reason; or no longer asked. */
import { useState } from "react";

import type { Requirement } from "../app/api";
import { useSources } from "../app/queries";
import { useWrite } from "../app/useWrite";
import { Entry } from "../kit/Entry";
import { Choice, TextField } from "../kit/fields";
import { TakeAway } from "../kit/TakeAway";
import { LimitFields, limitsOf, sent } from "./Limits";

export function RequirementForm(p: {
  slug: string;
  q: Requirement;
  name: string;
  onDone: () => void;
}) {
  const { q } = p;
  const sources = useSources(p.slug);
  const { write, error, busy } = useWrite();
  const [v, setV] = useState(() => limitsOf(q));
  const [source, setSource] = useState(String(q.source.id));
  const [page, setPage] = useState(q.source.page);
  const [reason, setReason] = useState("");
  const save = async () => {
    const body = { version: q.version, ...sent(v, q.kind), source: Number(source), page, reason };
    if (await write(`requirements/${q.id}`, body, "requirement", "PATCH")) p.onDone();
  };
  return (
    <>
      <Entry
        label="Requirement"
        save={save}
        button="Keep"
        off={busy || !sources.data}
        error={error}
      >
        <LimitFields kind={q.kind} values={v} set={setV} />
        <Choice
          label="Source"
          value={source}
          set={setSource}
          options={sources.data?.results.map((s) => ({ value: String(s.id), word: s.cited })) ?? []}
        />
        <TextField label="Page or sheet" value={page} set={setPage} />
        <TextField
          sentence
          label="Why it is changed"
          value={reason}
          set={setReason}
          hint="revision C of the drawing"
        />
      </Entry>
      <TakeAway
        what={p.name}
        at={`requirements/${q.id}`}
        version={q.version}
        hint="What was measured stays; that it was asked stays in the record."
        done={p.onDone}
      />
    </>
  );
}
