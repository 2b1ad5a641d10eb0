/** A trial: a document as changed here, worked out by the server, not kept until it is said so. */
import { useRef, useState } from "react";

import { useHolding } from "./held";

/** `work`: what the server makes of a document, with whatever else is sent along. */
export function useTrial<Tried, Doc, More extends unknown[]>(
  work: (document: unknown, ...more: More) => Promise<Tried>,
  documentOf: (tried: Tried | null) => Doc,
) {
  const [tried, setTried] = useState<Tried | null>(null);
  const [error, setError] = useState<unknown>(null);
  const turn = useRef(0);
  useHolding(tried !== null);
  const attempt = async (document: unknown, ...more: More): Promise<Tried | null> => {
    const mine = ++turn.current;
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
    }
  };
  const current = (): Doc => structuredClone(documentOf(tried));
  return {
    tried,
    error,
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
      setTried(null);
      setError(null);
    },
  };
}
