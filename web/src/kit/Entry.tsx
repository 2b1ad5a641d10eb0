/** A form: its fields, the button that sends it, and below what was refused. */
import type { ReactNode } from "react";
import Button from "react-bootstrap/Button";

import { Said } from "../marks/Said";

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
  children: ReactNode;
}) {
  return (
    <form
      className={p.className ?? "inline-form"}
      aria-label={p.label}
      onSubmit={(e) => {
        e.preventDefault();
        void p.save();
      }}
    >
      {p.children}
      {p.button !== undefined && (
        <Button type="submit" variant={p.variant ?? "primary"} disabled={p.off ?? false}>
          {p.button}
        </Button>
      )}
      <Said error={p.error} />
    </form>
  );
}
