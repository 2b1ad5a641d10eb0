/** New members of a linkage: a lever on a rod, a lever by hand or by another, a stop. */
import { useState } from "react";

import { Choice, same, TextField } from "../../kit/fields";
import { plain } from "../../marks/words";
import type { File, Trial } from "./useLinkageTrial";
import { Entry } from "../../kit/Entry";
import { number, place, three } from "../../kit/numbers";

/** The id that a name gets in the file. */
export const idOf = (name: string): string => name.trim().toLowerCase().replaceAll(/\s+/g, "_");

export function AddForms({ file, trial }: { file: File; trial: Trial }) {
  return (
    <>
      <details>
        <summary>Add a lever, crank or surface</summary>
        <LeverForm file={file} trial={trial} />
      </details>
      <details>
        <summary>Add a stop</summary>
        <StopForm file={file} trial={trial} />
      </details>
    </>
  );
}

function LeverForm({ file, trial }: { file: File; trial: Trial }) {
  const [name, setName] = useState("");
  const [pivot, setPivot] = useState("");
  const [axis, setAxis] = useState("0 1 0");
  const [arm, setArm] = useState("");
  const [how, setHow] = useState("rod");
  const [from, setFrom] = useState("");
  const [ratio, setRatio] = useState("");
  const [surface, setSurface] = useState("");
  const [error, setError] = useState<unknown>(null);
  const ends = file.bodies.flatMap((b) =>
    Object.keys(b.points ?? {}).map((p) => ({
      value: `${b.id}/${p}`,
      word: `${plain(b.id)}, ${plain(p)}`,
    })),
  );
  const inputs = Object.keys(file.inputs as Record<string, unknown>);
  const sources =
    how === "rod" ? ends : how === "body" ? same(...file.bodies.map((b) => b.id)) : same(...inputs);
  const chosen = sources.some((s) => s.value === from) ? from : (sources[0]?.value ?? "");
  const add = async () => {
    try {
      const id = idOf(name);
      if (!id) throw new Error("name: is needed");
      const points: Record<string, number[]> = arm.trim() ? { arm: place(arm, "arm") } : {};
      const times = ratio.trim() ? number(ratio) : 1;
      if (!Number.isFinite(times)) throw new Error("ratio: must be a number");
      if (how === "rod" && !points.arm) throw new Error("arm: is needed where the rod is held");
      const driver =
        how === "rod"
          ? { rod: `${id}_rod` }
          : how === "body"
            ? { body: chosen, ratio: times }
            : { input: chosen, ratio: times };
      const answer = await trial.change((f) => {
        f.bodies.push({
          id,
          kind: "turn",
          pivot: place(pivot, "pivot"),
          axis: three(axis, "axis"),
          driven_by: driver,
          points,
        });
        const [body = "", point = ""] = chosen.split("/");
        if (how === "rod")
          f.rods.push({ id: `${id}_rod`, a: { body, point }, b: { body: id, point: "arm" } });
        if (surface.trim())
          (f.outputs as Record<string, unknown>)[id] = { body: id, sign: Number(surface) };
      });
      setError(null);
      if (answer) {
        setName("");
        setPivot("");
        setArm("");
      }
    } catch (e) {
      setError(e);
    }
  };
  return (
    <Entry save={add} button="Try it" variant="outline-primary" error={error ?? trial.error}>
      <TextField label="Name" value={name} set={setName} hint="idler" />
      <TextField label="Pivot, mm" value={pivot} set={setPivot} hint="3550 0 432.5" />
      <TextField label="Axis" value={axis} set={setAxis} hint="0 1 0" />
      <Choice
        label="Driven by"
        value={how}
        set={setHow}
        options={[
          { value: "rod", word: "a rod from" },
          { value: "body", word: "cable, chain or gear of" },
          { value: "input", word: "hand, as input" },
        ]}
      />
      <Choice label="Which" value={chosen} set={setFrom} options={sources} />
      {how === "rod" ? (
        <TextField label="Rod held at, mm" value={arm} set={setArm} hint="3550 0 342.5" />
      ) : (
        <TextField label="Ratio" value={ratio} set={setRatio} hint="1" />
      )}
      <Choice
        label="Looked at as an output"
        value={surface}
        set={setSurface}
        options={[
          { value: "", word: "no" },
          { value: "1", word: "yes, as it turns" },
          { value: "-1", word: "yes, the other way" },
        ]}
      />
    </Entry>
  );
}

function StopForm({ file, trial }: { file: File; trial: Trial }) {
  const [name, setName] = useState("");
  const [body, setBody] = useState(file.bodies[0]?.id ?? "");
  const [side, setSide] = useState("max");
  const [at, setAt] = useState("");
  const [kind, setKind] = useState("surface");
  const [error, setError] = useState<unknown>(null);
  const add = async () => {
    const value = number(at);
    if (!idOf(name) || !at.trim() || !Number.isFinite(value)) {
      setError(new Error("name and place: are needed, the place as a number"));
      return;
    }
    setError(null);
    const slide = file.bodies.find((b) => b.id === body)?.kind === "slide";
    const answer = await trial.change((f) => {
      f.stops.push({
        id: idOf(name),
        body,
        side,
        at: slide ? value / 1e3 : (value * Math.PI) / 180,
        kind,
      });
    });
    if (answer) {
      setName("");
      setAt("");
    }
  };
  return (
    <Entry save={add} button="Try it" variant="outline-primary" error={error ?? trial.error}>
      <TextField label="Name" value={name} set={setName} hint="elevator up" />
      <Choice
        label="On"
        value={body}
        set={setBody}
        options={same(...file.bodies.map((b) => b.id))}
      />
      <Choice
        label="End"
        value={side}
        set={setSide}
        options={[
          { value: "max", word: "greatest turn" },
          { value: "min", word: "least turn" },
        ]}
      />
      <TextField label="At, ° (mm for a slide)" value={at} set={setAt} hint="-26" />
      <Choice
        label="Kind"
        value={kind}
        set={setKind}
        options={same("surface", "input", "servo", "actuator")}
      />
    </Entry>
  );
}
