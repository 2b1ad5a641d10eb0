/** One line that takes readings and jumps. The server understands it; this only shows it. */
import { useEffect, useState } from "react";
import { useNavigate } from "react-router";

import { VerdictMark } from "../marks/VerdictMark";
import { shown } from "../marks/words";
import { api, type EntryPreview, got, Problem, type Session } from "./api";
import { draft, post } from "./outbox";
import { useRefresh } from "./queries";

const TO: Record<string, string> = {
  lane: "",
  controls: "/controls",
  "sign-off": "/sign-off",
};

type Kept = { id: number; slug: string; said: string };

export function EntryBar(p: { slug: string; session: Session; onHelp: () => void }) {
  const { slug } = p;
  const [line, setLine] = useState(() => draft.read(`entry.${slug}`));
  const [seen, setSeen] = useState<{ line: string; is?: EntryPreview; why?: string }>({ line: "" });
  const [last, setLast] = useState<Kept | null>(null);
  const navigate = useNavigate();
  const refresh = useRefresh(slug);

  useEffect(() => {
    if (!line.trim()) return;
    const timer = setTimeout(() => {
      got(api.POST("/api/aircraft/{slug}/entry", { params: { path: { slug } }, body: { line } }))
        .then((is) => setSeen({ line, is }))
        .catch((e: unknown) =>
          setSeen({ line, why: e instanceof Problem ? (e.errors[0]?.reason ?? e.message) : "" }),
        );
    }, 150);
    return () => {
      clearTimeout(timer);
    };
  }, [line, slug]);

  const type = (text: string) => {
    setLine(text);
    draft.keep(`entry.${slug}`, text);
    if (!text.trim()) setSeen({ line: "" });
  };
  const enter = async () => {
    const is = seen.line === line ? seen.is : undefined;
    if (!is) return;
    if (is.kind === "jump") {
      type("");
      if (is.page === "rule book") void navigate("/rules");
      else if (is.page === "aircraft") void navigate("/");
      else void navigate(`/a/${slug}${TO[is.page] ?? `/controls/${is.page}`}`);
      return;
    }
    const path = `/api/aircraft/${slug}/controls/${is.control}/readings`;
    try {
      const sheet = (await post(path, is.reading, line, p.session.username)) as {
        readings: { id: number }[];
      };
      const id = Math.max(...sheet.readings.map((r) => r.id));
      setLast({ id, slug, said: line });
      type("");
    } catch (e) {
      setSeen({ line, is, why: e instanceof Error ? e.message : "Failed" });
    }
    await refresh();
  };
  const undo = async () => {
    if (!last) return;
    const path = `/api/aircraft/${slug}/readings/${last.id}/corrections`;
    const body = { withdraw: true, reason: "undone from the entry bar" };
    try {
      await post(path, body, `undo ${last.said}`, p.session.username);
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
        value={line}
        autoComplete="off"
        spellCheck={false}
        placeholder="a reading or where to go: elev up 26.4, go sign-off"
        onChange={(e) => type(e.target.value)}
        onKeyDown={(e) => {
          if (e.key === "Enter") void enter();
          if (e.key === "Escape") e.currentTarget.blur();
        }}
      />
      <span className="entry-said" role="status">
        {now.why ?? (now.is && <Meaning is={now.is} />)}
        {!line && last && (
          <>
            Kept: {last.said}{" "}
            <button type="button" className="plain" onClick={() => void undo()}>
              Undo
            </button>
          </>
        )}
      </span>
      <button type="button" className="plain help" onClick={p.onHelp} aria-label="Keyboard">
        ?
      </button>
    </footer>
  );
}

function Meaning({ is }: { is: EntryPreview }) {
  if (is.kind === "jump") return <>Go to {is.page} · Enter</>;
  const result = is.preview?.result;
  return (
    <>
      {String(is.reading?.surface).replaceAll("-", " ")},{" "}
      {String(is.reading?.position).replace("_", " ")}: {is.preview?.said}
      {result && result.value !== null && (
        <>
          {" "}
          → {shown(result.value, "°")} ± {shown(result.U, "°")}{" "}
          <VerdictMark verdict={result.verdict} word />
        </>
      )}{" "}
      · Enter keeps it
    </>
  );
}
