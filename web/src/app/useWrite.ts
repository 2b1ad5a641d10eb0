/** One way to write: through the outbox, with the refusal beside the form, then all read again. */
import { useState } from "react";
import { useOutletContext } from "react-router";

import type { FrameContext } from "./Frame";
import { post } from "./outbox";
import { useRefresh } from "./queries";
import type { Sent } from "./sent";

export function useWrite() {
  const { aircraft, session } = useOutletContext<FrameContext>();
  const refresh = useRefresh(aircraft.slug);
  const [error, setError] = useState<unknown>(null);
  // Busy while a write is under way; pending until all is read again after it, so that what
  // depends on a version can wait for the new one.
  const [busy, setBusy] = useState(false);
  const [pending, setPending] = useState(false);
  /** `path` is under the aircraft's address. The answer, or null if it was refused. */
  const write = async <const P extends string, B extends object>(
    path: P,
    body: Sent<P, B>,
    label: string,
    method = "POST",
  ): Promise<unknown> => {
    setBusy(true);
    setPending(true);
    try {
      const to = `/api/aircraft/${aircraft.slug}${path && "/" + path}`;
      const answer: unknown = await post(to, body, label, session.username, method);
      setError(null);
      return answer;
    } catch (e) {
      setError(e);
      return null;
    } finally {
      setBusy(false);
      await refresh();
      setPending(false);
    }
  };
  return { write, error, busy, pending };
}
