/** What is being entered: while somebody is at it, nothing under it is read anew. */
import { useEffect, useRef, useSyncExternalStore } from "react";

const entering = new Set<symbol>();
const heard = new Set<() => void>();

function say(id: symbol, on: boolean) {
  if (on === entering.has(id)) return;
  if (on) entering.add(id);
  else entering.delete(id);
  for (const tell of heard) tell();
}

/** Says of one form whether something is being entered in it; forgotten when it goes. */
export function useEntering(): (on: boolean) => void {
  const id = useRef(Symbol("form"));
  useEffect(() => {
    const mine = id.current;
    return () => {
      say(mine, false);
    };
  }, []);
  return (on) => {
    say(id.current, on);
  };
}

/** The same for what is no form: a trial, marks on a picture. */
export function useHolding(on: boolean) {
  const tell = useEntering();
  useEffect(() => {
    tell(on);
  });
}

/** Whether anything is being entered anywhere on the page. */
export function useHeld(): boolean {
  return useSyncExternalStore(
    (tell) => {
      heard.add(tell);
      return () => heard.delete(tell);
    },
    () => entering.size > 0,
  );
}
