/** One line that takes readings, work, notes and jumps. The server understands; this shows it. */
import { useEffect, useRef, useState } from "react";
import { useNavigate } from "react-router";

import { useBay } from "../aircraft/useBay";
import { VerdictMark } from "../marks/VerdictMark";
import { shown } from "../marks/words";
import { api, type EntryPreview, got, Problem, type Session } from "./api";
import { draft, post } from "./outbox";
import { useEntryExamples, useRefresh } from "./queries";

type Kept = { said: string; path: string; body: unknown };
type Seen = { line: string; is?: EntryPreview; why?: string };

/** What the answer of a write names, to take it back: a reading, an event, or the row itself. */
type Made = {
  id?: number;
  readings?: { id: number }[];
  events?: { id: number }[];
  done?: { id: number }[];
};

export function EntryBar(p: { slug: string; session: Session; onHelp: () => void }) {
  const { slug } = p;
  const [bay] = useBay();
  const [line, setLine] = useState(() => draft.read(`entry.${slug}`));
  const [seen, setSeen] = useState<Seen>({ line: "" });
  const [last, setLast] = useState<Kept | null>(null);
  const [options, setOptions] = useState<string[]>([]);
  const field = useRef<HTMLInputElement>(null);
  const navigate = useNavigate();
  const refresh = useRefresh(slug);
  const examples = useEntryExamples(slug);

  useEffect(() => {
    if (!line.trim()) return;
    const timer = setTimeout(() => {
      const body = { line, bay: bay ?? "" };
      got(api.POST("/api/aircraft/{slug}/entry", { params: { path: { slug } }, body }))
        .then((is) => setSeen({ line, is }))
        .catch((e: unknown) =>
          setSeen({ line, why: e instanceof Problem ? (e.errors[0]?.reason ?? e.message) : "" }),
        );
    }, 150);
    return () => {
      clearTimeout(timer);
    };
  }, [line, slug, bay]);

  const type = (text: string) => {
    setLine(text);
    setOptions([]);
    draft.keep(`entry.${slug}`, text);
    if (!text.trim()) setSeen({ line: "" });
  };
  const complete = async () => {
    if (options.length > 1) {
      // Tab again goes round what the line may become.
      const next = options[(options.indexOf(line.trimEnd()) + 1) % options.length] ?? line;
      setLine(next);
      return;
    }
    const found = await got(
      api.POST("/api/aircraft/{slug}/entry/completions", {
        params: { path: { slug } },
        body: { line, bay: bay ?? "" },
      }),
    );
    if (found.options[0]) {
      type(found.options[0]);
      setOptions(found.options.map((o) => o.trimEnd()));
    }
  };
  const enter = async () => {
    const is = seen.line === line ? seen.is : undefined;
    if (!is || is.kind === "which") return;
    if (is.kind === "jump") {
      type("");
      void navigate(is.page.startsWith("/") ? is.page : `/a/${slug}${is.page && "/" + is.page}`);
      return;
    }
    const base = `/api/aircraft/${slug}/`;
    try {
      const made = (await post(base + is.path, is.body, line, p.session.username)) as Made;
      const rows = made.readings ?? made.events ?? made.done;
      const id = rows ? Math.max(...rows.map((r) => r.id)) : (made.id ?? 0);
      const body = is.kind === "joint" ? { event: id } : is.undo_body;
      setLast({ said: line, path: base + is.undo_path.replace("{}", String(id)), body });
      type("");
    } catch (e) {
      setSeen({ line, is, why: e instanceof Error ? e.message : "Failed" });
    }
    await refresh();
  };
  const undo = async () => {
    if (!last) return;
    try {
      await post(last.path, last.body, `undo ${last.said}`, p.session.username);
      setLast(null);
    } catch (e) {
      setSeen({ line, why: e instanceof Error ? e.message : "Failed" });
    }
    await refresh();
  };

  const now = seen.line === line ? seen : { line };
  return (
    <footer className="entry">
      <label htmlFor="entry" aria-label="Entry bar">
        ›
      </label>
      <input
        id="entry"
        ref={field}
        value={line}
        autoComplete="off"
        spellCheck={false}
        placeholder={examples.data?.options.join(" · ") ?? ""}
        onChange={(e) => type(e.target.value)}
        onKeyDown={(e) => {
          if (e.key === "Enter") void enter();
          if (e.key === "Escape") e.currentTarget.blur();
          if (e.key === "Tab" && !e.shiftKey && line.trim()) {
            e.preventDefault();
            void complete();
          }
          if (e.key === "z" && (e.ctrlKey || e.metaKey) && !line && last) {
            e.preventDefault();
            void undo();
          }
        }}
      />
      <span className="entry-said" role="status">
        {now.why ?? (now.is && <Meaning is={now.is} pick={type} />)}
        {!line && last && (
          <>
            Kept: {last.said}{" "}
            <button type="button" className="plain" onClick={() => void undo()}>
              Undo
            </button>
          </>
        )}
      </span>
      <button type="button" className="plain help" onClick={p.onHelp} aria-label="Help">
        ?
      </button>
    </footer>
  );
}

function Meaning({ is, pick }: { is: EntryPreview; pick: (line: string) => void }) {
  if (is.kind === "which")
    return (
      <>
        Which?{" "}
        {is.options.map((o) => (
          <button key={o} type="button" className="plain" onClick={() => pick(o)}>
            {o}
          </button>
        ))}
      </>
    );
  if (is.kind === "jump") return <>{is.said} · Enter</>;
  const result = is.preview?.result;
  return (
    <>
      {is.said}
      {result && result.value !== null && (
        <>
          {" "}
          → {shown(result.value, "°")} ± {shown(result.U, "°")}{" "}
          <VerdictMark verdict={result.verdict} word />
        </>
      )}
      {is.would && (
        <>
          {" "}
          → {is.would.said} <VerdictMark verdict={is.would.verdict} word />
        </>
      )}{" "}
      · Enter keeps it
    </>
  );
}
