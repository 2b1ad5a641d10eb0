/** Whether something was done elsewhere, and whether the server answers at all. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";

import { useHeld } from "../kit/held";
import { api, got, Problem } from "./api";

/** Asked again so often, ms: another tab or person is followed within two seconds. */
export const EVERY = 1500;

/** Reads all of the aircraft again when something changed, and when the server is back; never
 * under what somebody is entering. `gone`: it does not answer; `waits`: something changed. */
export function usePulse(slug: string): { gone: boolean; waits: boolean } {
  const held = useHeld();
  const client = useQueryClient();
  const seen = useRef<number | null>(null);
  const away = useRef(false);
  const pulse = useQuery({
    queryKey: ["pulse", slug],
    queryFn: () => got(api.GET("/api/aircraft/{slug}/pulse", { params: { path: { slug } } })),
    refetchInterval: EVERY,
    staleTime: 0,
    gcTime: 0,
    retry: false,
    networkMode: "always",
  });
  const gone = pulse.error instanceof Problem && (pulse.error.status >= 500 || !pulse.error.status);
  const last = pulse.data?.last;
  const [waits, setWaits] = useState(false);
  useEffect(() => {
    if (gone) away.current = true;
    if (gone || last === undefined) return;
    const changed = away.current || (seen.current !== null && seen.current !== last);
    setWaits(changed && held);
    if (changed && held) return;
    if (changed) void client.invalidateQueries({ queryKey: ["a", slug] });
    seen.current = last;
    away.current = false;
  }, [client, slug, last, gone, held]);
  return { gone, waits };
}
