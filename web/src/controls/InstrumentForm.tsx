/** The aircraft's instruments, and a new one. */
import Button from "react-bootstrap/Button";
import { useState } from "react";

import { api, got } from "../app/api";
import { useInstruments, useRefresh } from "../app/queries";
import { Said } from "../marks/Said";
import { TextField } from "./fields";

const FACES = [
  ["plus_minus_180", "−180 to 180°"],
  ["plus_minus_90", "−90 to 90°"],
  ["full_360", "0 to 360°"],
  ["quadrant_90", "0 to 90°, no sign"],
] as const;

export function InstrumentForm({ slug }: { slug: string }) {
  const list = useInstruments(slug);
  const refresh = useRefresh(slug);
  const [name, setName] = useState("");
  const [kind, setKind] = useState<"angle" | "length">("angle");
  const [face, setFace] = useState<(typeof FACES)[number][0]>("plus_minus_180");
  const [accuracy, setAccuracy] = useState("");
  const [resolution, setResolution] = useState("");
  const [due, setDue] = useState("");
  const [error, setError] = useState<unknown>(null);
  const add = async () => {
    try {
      await got(
        api.POST("/api/aircraft/{slug}/instruments", {
          params: { path: { slug } },
          body: {
            name,
            kind,
            face: kind === "angle" ? face : "",
            accuracy,
            resolution,
            calibration_due: due || null,
          },
        }),
      );
      setName("");
      setAccuracy("");
      setResolution("");
      setError(null);
    } catch (e) {
      setError(e);
    }
    await refresh();
  };
  return (
    <>
      <ul className="rows">
        {list.data?.results.map((i) => (
          <li key={i.id}>
            <strong>{i.name}</strong>
            <span className="num">
              ±{i.accuracy_typed}, step {i.resolution_typed}
            </span>
            <span className={i.overdue ? "overdue" : "quiet"}>
              {i.calibration_due
                ? `calibration ${i.overdue ? "was due" : "good to"} ${i.calibration_due}`
                : "no calibration date"}
              {i.live && ", can be read live"}
            </span>
          </li>
        ))}
      </ul>
      <form
        className="inline-form"
        aria-label="New instrument"
        onSubmit={(e) => {
          e.preventDefault();
          void add();
        }}
      >
        <TextField label="Name" value={name} set={setName} />
        <label>
          Measures
          <select
            className="form-select"
            value={kind}
            onChange={(e) => setKind(e.target.value as "angle")}
          >
            <option value="angle">angles</option>
            <option value="length">lengths</option>
          </select>
        </label>
        {kind === "angle" && (
          <label>
            Its face shows
            <select
              className="form-select"
              value={face}
              onChange={(e) => setFace(e.target.value as typeof face)}
            >
              {FACES.map(([value, word]) => (
                <option key={value} value={value}>
                  {word}
                </option>
              ))}
            </select>
          </label>
        )}
        <TextField
          label="Accuracy, ± (maker's limit)"
          value={accuracy}
          set={setAccuracy}
          hint={kind === "angle" ? "0.2°" : "0.3 mm"}
        />
        <TextField
          label="One step of the display"
          value={resolution}
          set={setResolution}
          hint={kind === "angle" ? "0.05°" : "0.5 mm"}
        />
        <TextField label="Calibration due" type="date" value={due} set={setDue} />
        <Button type="submit">Add</Button>
        <Said error={error} />
      </form>
    </>
  );
}
