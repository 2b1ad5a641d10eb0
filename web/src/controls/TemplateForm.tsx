/** A cut-out card for an included angle: 1:1 as PDF, or SVG and DXF for a cutter. */
import Button from "react-bootstrap/Button";
import { useState } from "react";

import { Problem, send, type Sheet } from "../app/api";
import { Caution, Said } from "../marks/Said";
import { positionWord } from "../marks/words";
import { Fields, TextField } from "../kit/fields";
import { Entry } from "../kit/Entry";

const SIZES = [
  ["arm_fixed", "Arm on the fixed skin, mm"],
  ["arm_moving", "Arm on the moving skin, mm"],
  ["width", "Width, mm"],
  ["notch_radius", "Notch radius, mm (0: none)"],
  ["notch_aft", "Notch centre aft, mm"],
  ["notch_up", "Notch centre up, mm"],
] as const;

export function TemplateForm({ sheet }: { sheet: Sheet }) {
  const travels = sheet.requirements.filter((q) => q.kind === "travel");
  const [q, setQ] = useState(travels[0]?.id ?? 0);
  const asked = travels.find((t) => t.id === q);
  const surface = sheet.surfaces.find((s) => s.slug === asked?.surface);
  const card = asked?.template ?? null;
  const skin = card?.skin ?? "upper";
  const suggested = card?.included_deg == null ? "" : String(Number(card.included_deg.toFixed(1)));
  const [values, setValues] = useState<Record<string, string>>({
    arm_fixed: "160",
    arm_moving: "140",
    width: "40",
    notch_radius: "14",
    notch_aft: "2",
    notch_up: "-3",
  });
  const [included, setIncluded] = useState("");
  const [error, setError] = useState<unknown>(null);
  const make = async (kind: "pdf" | "svg" | "dxf") => {
    const label = {
      title: `${surface?.name ?? sheet.name} ${positionWord(asked?.position ?? "")}`,
      skin: `${skin} skin`,
      tolerance: asked ? `travel ${asked.as_typed}` : "",
    };
    const search = new URLSearchParams({ included: included || suggested, ...values, ...label });
    try {
      const answer = await send(`/api/template.${kind}?${search.toString()}`);
      const url = URL.createObjectURL(await answer.blob());
      const link = document.createElement("a");
      link.href = url;
      link.download = `${sheet.slug}-template.${kind}`;
      link.click();
      setError(null);
    } catch (e) {
      setError(e instanceof Problem ? e : new Error("The template could not be made."));
    }
  };
  return (
    <Entry label="Template" save={() => void make("pdf")}>
      <label>
        For
        <select
          className="form-select"
          value={q}
          onChange={(e) => {
            setQ(Number(e.target.value));
            setIncluded("");
          }}
        >
          {travels.map((t) => (
            <option key={t.id} value={t.id}>
              {sheet.surfaces.find((s) => s.slug === t.surface)?.name}, {positionWord(t.position)} (
              {t.source.cited})
            </option>
          ))}
        </select>
      </label>
      <TextField
        label={`Included angle on the ${skin} skin, °`}
        value={included}
        hint={suggested}
        set={setIncluded}
      />
      <Fields of={SIZES} values={values} set={setValues} />
      <Button type="submit">PDF, 1:1</Button>
      <Button variant="outline-primary" type="button" onClick={() => void make("svg")}>
        SVG
      </Button>
      <Button variant="outline-primary" type="button" onClick={() => void make("dxf")}>
        DXF
      </Button>
      <Said error={error} />
      <Caution>
        Print at 100 % and measure the 100 mm square before cutting.{" "}
        {suggested
          ? "The suggested angle takes the middle of the range from this surface's neutral angle."
          : "No neutral angle is entered for this surface: enter the angle that the drawing gives."}
      </Caution>
    </Entry>
  );
}
