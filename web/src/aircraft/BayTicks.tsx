/** Which bays: one tick each. */
import type { Aircraft } from "../app/api";

export function BayTicks(p: {
  legend: string;
  bays: Aircraft["bays"];
  value: string[];
  set: (bays: string[]) => void;
}) {
  const toggle = (bay: string) =>
    p.set(p.value.includes(bay) ? p.value.filter((b) => b !== bay) : [...p.value, bay]);
  return (
    <fieldset>
      <legend>{p.legend}</legend>
      {p.bays.map((b) => (
        <label key={b.slug} className="tick tick-inline">
          <input
            type="checkbox"
            checked={p.value.includes(b.slug)}
            onChange={() => toggle(b.slug)}
          />
          {b.name}
        </label>
      ))}
    </fieldset>
  );
}
