/** What the drawing asks, as typed, with its source. */
import { useState } from "react";

import type { Requirement } from "../app/api";
import { useSources } from "../app/queries";
import { useWrite } from "../app/useWrite";
import { limit } from "../marks/words";
import { Entry } from "../kit/Entry";
import { Choice, TextField } from "../kit/fields";

export function RequirementForm(p: { slug: string; q: Requirement; onDone: () => void }) {
  const { q } = p;
  const sources = useSources(p.slug);
  const { write, error, busy } = useWrite();
  const [lo, setLo] = useState(q.lo === null ? "" : limit(q.lo, ""));
  const [hi, setHi] = useState(q.hi === null ? "" : limit(q.hi, ""));
  const [source, setSource] = useState(String(q.source.id));
  const [page, setPage] = useState(q.source.page);
  const save = async () => {
    const body = { version: q.version, lo, hi, source: Number(source), page };
    if (await write(`requirements/${q.id}`, body, "requirement", "PATCH")) p.onDone();
  };
  return (
    <Entry label="Requirement" save={save} button="Keep" off={busy} error={error}>
      <TextField label="Low, °" value={lo} set={setLo} />
      <TextField label="High, °" value={hi} set={setHi} />
      <Choice
        label="Source"
        value={source}
        set={setSource}
        options={sources.data?.results.map((s) => ({ value: String(s.id), word: s.cited })) ?? []}
      />
      <TextField label="Page or sheet" value={page} set={setPage} />
    </Entry>
  );
}
