/** What the drawing asks, as typed, with its source. */
import { useState } from "react";

import { api, got, type Requirement } from "../app/api";
import { useRefresh, useSources } from "../app/queries";
import { limit } from "../marks/words";
import { Entry } from "../kit/Entry";

export function RequirementForm(p: { slug: string; q: Requirement; onDone: () => void }) {
  const { q } = p;
  const sources = useSources(p.slug);
  const refresh = useRefresh(p.slug);
  const [lo, setLo] = useState(q.lo === null ? "" : limit(q.lo, ""));
  const [hi, setHi] = useState(q.hi === null ? "" : limit(q.hi, ""));
  const [source, setSource] = useState(q.source.id);
  const [page, setPage] = useState(q.source.page);
  const [error, setError] = useState<unknown>(null);
  const save = async () => {
    try {
      await got(
        api.PATCH("/api/aircraft/{slug}/requirements/{requirement}", {
          params: { path: { slug: p.slug, requirement: q.id } },
          body: { version: q.version, lo, hi, source, page },
        }),
      );
      p.onDone();
    } catch (e) {
      setError(e);
    }
    await refresh();
  };
  return (
    <Entry label="Requirement" save={save} button="Keep" error={error}>
      <label>
        Low, °
        <input className="form-control" value={lo} onChange={(e) => setLo(e.target.value)} />
      </label>
      <label>
        High, °
        <input className="form-control" value={hi} onChange={(e) => setHi(e.target.value)} />
      </label>
      <label>
        Source
        <select
          className="form-select"
          value={source}
          onChange={(e) => setSource(Number(e.target.value))}
        >
          {sources.data?.results.map((s) => (
            <option key={s.id} value={s.id}>
              {s.cited}
            </option>
          ))}
        </select>
      </label>
      <label>
        Page or sheet
        <input className="form-control" value={page} onChange={(e) => setPage(e.target.value)} />
      </label>
    </Entry>
  );
}
