/** A row of weight and balance as typed. */
import type { WeightPage, WeightRow } from "../app/api";
import { RowForm } from "../worksheets/RowForm";

export function WeightForm(p: {
  page: WeightPage;
  kind: string;
  one?: WeightRow;
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
    />
  );
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
