/** What was typed of a row, field by field. */
import { useOutletContext } from "react-router";

import type { SheetField } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { measured } from "./AskedField";

export function TypedSaid(p: { fields: SheetField[]; typed: Record<string, unknown> }) {
  const { aircraft } = useOutletContext<FrameContext>();
  const said = p.fields.filter((f) => p.typed[f.key]);
  return (
    <dl className="facts">
      {said.map((f) => (
        <div key={f.key}>
          <dt>{measured(f, aircraft.length_unit)}</dt>
          <dd>{words(f, p.typed[f.key])}</dd>
        </div>
      ))}
    </dl>
  );
}

/** What was typed, a choice by its word, rows of a table one after the other. */
export function words(f: SheetField, typed: unknown): string {
  if (Array.isArray(typed))
    return (typed as Record<string, string>[])
      .map((r) => f.columns.map((c) => r[c.key] ?? "").join(" · "))
      .join("; ");
  const text = typeof typed === "string" ? typed : "";
  return f.choices.find((c) => c.value === text)?.word ?? text;
}
