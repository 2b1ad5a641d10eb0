/** "Why this number?": answered beside the number, from the very inputs that gave it. */
import { lazy, Suspense, useState } from "react";

const WhyPanel = lazy(() => import("./WhyPanel"));

export type Reason = {
  rule: string;
  inputs: Record<string, unknown>;
  origins?: Record<string, string>;
  units?: Record<string, string>;
};

export function Why({ why, text }: { why: Reason | null; text?: string }) {
  const [open, setOpen] = useState(false);
  if (!why) return null;
  return (
    <>
      <button
        type="button"
        className="plain why"
        aria-haspopup="dialog"
        onClick={() => {
          setOpen(true);
        }}
      >
        {text ?? "Why this number?"}
      </button>
      {open && (
        <Suspense>
          <WhyPanel
            why={why}
            close={() => {
              setOpen(false);
            }}
          />
        </Suspense>
      )}
    </>
  );
}
