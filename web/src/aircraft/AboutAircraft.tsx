/** What is said of the aircraft itself: name, datum, the arm that works on it, hours, facts. */
import { useState } from "react";

import type { Aircraft } from "../app/api";
import { useWrite } from "../app/useWrite";
import { Choice, same, TextField } from "../kit/fields";
import { Entry } from "../kit/Entry";

const mm = (x: number | null) => (x === null ? "" : `${Math.round(x * 10) / 10} mm`);

export function AboutAircraft({ aircraft: a }: { aircraft: Aircraft }) {
  const { write, error, busy } = useWrite();
  const [v, setV] = useState({
    name: a.name,
    summary: a.summary,
    datum: a.datum,
    arm: mm(a.arm_mm),
    arm_width: mm(a.arm_width_mm),
    hours: String(a.hours_run),
    facts: Object.entries(a.facts)
      .map(([k, x]) => `${k}=${String(x)}`)
      .join(", "),
  });
  const [unit, setUnit] = useState<string>(a.length_unit);
  const field = (key: keyof typeof v, label: string, hint = "") => (
    <TextField label={label} value={v[key]} hint={hint} set={(x) => setV({ ...v, [key]: x })} />
  );
  if (!a.may.includes("change facts"))
    return (
      <p className="quiet">
        Reach of the arm that works here: {mm(a.arm_mm) || "not entered"}, width{" "}
        {mm(a.arm_width_mm) || "not entered"}.
      </p>
    );
  return (
    <details open={a.arm_mm === null}>
      <summary>About the aircraft</summary>
      <Entry
        label="About the aircraft"
        save={() => {
          const { hours, ...rest } = v;
          const body = { ...rest, hours_run: hours, length_unit: unit, version: a.version };
          void write("", body, "the aircraft", "PATCH");
        }}
        className=""
        button="Keep"
        off={busy}
        error={error}
      >
        {field("name", "Name")}
        {field("summary", "In a few words")}
        {field("datum", "Datum and how it is levelled")}
        <div className="pairs">
          {field("arm", "Your arm’s reach", "650 mm")}
          {field("arm_width", "Its width", "120 mm")}
          {field("hours", "Hours run")}
          <Choice
            label="Bare lengths are in"
            value={unit}
            set={setUnit}
            options={same("mm", "in")}
          />
        </div>
        {field("facts", "What bulletins ask", "model=Fenlark, serial=40")}
      </Entry>
    </details>
  );
}
