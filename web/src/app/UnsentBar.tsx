/** What was typed but not acknowledged: offered again after a lost connection or a reload. */
import Button from "react-bootstrap/Button";
import { useState } from "react";

import { Said } from "../marks/Said";
import { again, forget, type Unsent, useUnsent } from "./outbox";
import { useRefresh } from "./queries";

export function UnsentBar({ slug, who }: { slug: string; who: string }) {
  const refresh = useRefresh(slug);
  const [error, setError] = useState<unknown>(null);
  const [busy, setBusy] = useState(false);
  const mine = useUnsent().filter((u) => u.who === who && u.path.includes(`/aircraft/${slug}/`));
  if (mine.length === 0) return error ? <Said error={error} /> : null;
  const sendAll = async () => {
    setBusy(true);
    setError(null);
    try {
      for (const one of mine) await again(one);
    } catch (e) {
      setError(e);
    } finally {
      setBusy(false);
      await refresh();
    }
  };
  return (
    <section className="unsent" aria-label="Not sent yet">
      <strong>Not acknowledged by the server yet</strong>
      <ul>
        {mine.map((u: Unsent) => (
          <li key={u.key}>
            {u.label}{" "}
            <button type="button" className="plain" onClick={() => forget(u.key)}>
              Discard
            </button>
          </li>
        ))}
      </ul>
      <Button disabled={busy} type="button" onClick={() => void sendAll()}>
        Send again
      </Button>
      <Said error={error} />
    </section>
  );
}
