/** A trial: a document as changed here, worked out by the server, not kept until it is said so. */
import { useRef, useState } from "react";

import { useHolding } from "./held";

/** `work`: what the server makes of a document, with whatever else is sent along. `version`: of
 * what is kept now; a trial is of the one that it began on. */
export function useTrial<Tried, Doc, More extends unknown[]>(
  work: (document: unknown, ...more: More) => Promise<Tried>,
  documentOf: (tried: Tried | null) => Doc,
  version: number,
) {
  const [tried, setTried] = useState<Tried | null>(null);
  const [error, setError] = useState<unknown>(null);
  const [busy, setBusy] = useState(false);
  const [began, setBegan] = useState(version);
  const turn = useRef(0);
  // What was sent last and is not answered yet: the next change stands on it.
  const sent = useRef<Doc | null>(null);
  useHolding(tried !== null);
  const attempt = async (document: unknown, ...more: More): Promise<Tried | null> => {
    const mine = ++turn.current;
    if (tried === null) setBegan(version);
    sent.current = more.some(Boolean) ? null : (document as Doc);
    setBusy(true);
    try {
      const answer = await work(document, ...more);
      // Only the last of several on their way counts.
      if (mine === turn.current) {
        setTried(answer);
        setError(null);
      }
      return answer;
    } catch (e) {
      if (mine === turn.current) setError(e);
      return null;
    } finally {
      if (mine === turn.current) {
        sent.current = null;
        setBusy(false);
      }
    }
  };
  const current = (): Doc => structuredClone(sent.current ?? documentOf(tried));
  return {
    tried,
    error,
    version: tried === null ? version : began,
    /** What was changed last is not worked out yet: nothing is kept meanwhile. */
    busy,
    attempt,
    current,
    /** Change the document and work it out. */
    change: (edit: (document: Doc) => void, ...more: More) => {
      const document = current();
      edit(document);
      return attempt(document, ...more);
    },
    leave: () => {
      turn.current += 1;
      sent.current = null;
      setBusy(false);
      setTried(null);
      setError(null);
    },
  };
}
