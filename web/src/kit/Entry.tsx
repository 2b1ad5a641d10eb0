/** A form: its fields, the button that sends it, and below what was refused. */
import { type ReactNode, useState } from "react";
import Button from "react-bootstrap/Button";

import { Said } from "../marks/Said";
import { useEntering } from "./held";

export function Entry(p: {
  /** What sending it does; the browser's own sending never happens. */
  save: () => unknown;
  label?: string | undefined;
  className?: string;
  /** The word on its button; without, the fields bring their own. */
  button?: ReactNode;
  variant?: string;
  off?: boolean;
  error?: unknown;
  /** Of no version of anything: what is done elsewhere may be shown under it. */
  loose?: boolean;
  children: ReactNode;
}) {
  const entering = useEntering();
  // What kept it from being sent at all: a field that nobody can read.
  const [unread, setUnread] = useState<unknown>(null);
  const send = async () => {
    setUnread(null);
    try {
      await p.save();
    } catch (error) {
      setUnread(error);
    } finally {
      entering(false);
    }
  };
  return (
    <form
      className={p.className ?? "inline-form"}
      aria-label={p.label}
      onInput={() => {
        if (!p.loose) entering(true);
      }}
      onSubmit={(e) => {
        e.preventDefault();
        void send();
      }}
    >
      {p.children}
      {p.button !== undefined && (
        <Button type="submit" variant={p.variant ?? "primary"} disabled={p.off ?? false}>
          {p.button}
        </Button>
      )}
      <Said error={unread ?? p.error} />
    </form>
  );
}
