/** A row of weight and balance as typed. */
import type { WeightPage, WeightRow } from "../app/api";
import type { Typed } from "../worksheets/AskedField";
import { RowForm } from "../worksheets/RowForm";

export function WeightForm(p: {
  page: WeightPage;
  kind: string;
  one?: WeightRow;
  /** The weighing that a new one repeats with the scales changed about. */
  again?: WeightRow | undefined;
  done: (slug: string) => void;
}) {
  const kind = p.page.kinds.find((k) => k.id === p.kind);
  if (!kind) return null;
  return (
    <RowForm
      at="weight"
      kind={kind}
      rows={p.page.results}
      names={NAMES}
      hint={HINTS[p.kind] ?? ""}
      done={p.done}
      {...(p.one ? { one: p.one } : {})}
      begun={p.again && turned(p.again)}
    />
  );
}

/** The same wheels at the same arms, every scale under the next wheel. */
function turned(w: WeightRow): { name: string; typed: Typed } {
  const typed = w.typed as Typed;
  const wheels = Array.isArray(typed.wheels) ? typed.wheels : [];
  const scales = wheels.map((x) => x.scale ?? "");
  return {
    name: `${w.name}, scales changed about`,
    typed: {
      ...typed,
      again: w.name,
      wheels: wheels.map((x, i) => ({ ...x, scale: scales[(i + 1) % scales.length] ?? "" })),
    },
  };
}

const NAMES = {
  at: ["station"],
  tank: ["tank"],
  scale: ["scale"],
  again: ["weighing"],
};
const HINTS: Record<string, string> = {
  limits: "Limits",
  fuel: "Fuel",
  station: "Pilot",
  tank: "Left tank",
  group: "Both seats",
  loading: "Two with baggage",
  place: "Firewall shelf",
  part: "Engine with mount",
  sureness: "How sure",
  scale: "Scale A",
  weighing: "First weighing",
  change: "Second radio",
};
