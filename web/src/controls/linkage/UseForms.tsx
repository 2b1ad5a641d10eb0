/** What a linkage is used for: the surface and positions of each output, the range and detents of
 * each input, and what a stop is and how far it can be turned. Each a trial until it is kept. */
import { useState } from "react";

import type { Sheet } from "../../app/api";
import { Entry } from "../../kit/Entry";
import { Choice, type Option, same, TextField, Tick } from "../../kit/fields";
import { number } from "../../kit/numbers";
import { plain, positionWord } from "../../marks/words";
import { idOf } from "./AddForms";
import type { File, Trial } from "./useLinkageTrial";

type Output = {
  body: string;
  sign?: number;
  surface?: string;
  plus?: string;
  minus?: string;
  input?: string;
};
type Input = {
  unit: string;
  positive?: string;
  limit?: number;
  detents?: Record<string, number>;
  throw_tol?: number;
};
type Stop = File["stops"][number];
type Props = { file: File; sheet: Sheet; trial: Trial };

const NONE: Option = { value: "", word: "none" };
const outputsOf = (f: File) => f.outputs as Record<string, Output>;
const inputsOf = (f: File) => f.inputs as Record<string, Input>;
/** What a value of this unit is shown in, and how much of it one is. */
const shownIn = (unit: string): [string, number] =>
  unit === "m" ? ["mm", 1e3] : ["°", 180 / Math.PI];
const text = (v: number | undefined, per: number): string =>
  v === undefined ? "" : String(Number((v * per).toFixed(4)));

export function UseForms(p: Props) {
  const outputs = Object.entries(outputsOf(p.file));
  const inputs = Object.entries(inputsOf(p.file));
  return (
    <>
      <details>
        <summary>What it moves: {outputs.length}</summary>
        {outputs.map(([name, o]) => (
          <OutputForm key={name + JSON.stringify(o)} name={name} output={o} {...p} />
        ))}
        <OutputForm key={`new ${outputs.length}`} {...p} />
      </details>
      <details>
        <summary>What moves it: {inputs.length}</summary>
        {inputs.map(([name, i]) => (
          <InputForm key={name + JSON.stringify(i)} name={name} input={i} {...p} />
        ))}
      </details>
      {p.file.stops.length > 0 && (
        <details>
          <summary>Stops: {p.file.stops.length}</summary>
          {p.file.stops.map((s) => (
            <StopForm key={JSON.stringify(s)} stop={s} {...p} />
          ))}
        </details>
      )}
    </>
  );
}

function OutputForm(p: Props & { name?: string; output?: Output }) {
  const { file, sheet, trial, name: was } = p;
  const [name, setName] = useState(was ?? "");
  const [o, setO] = useState<Output>(p.output ?? { body: file.bodies[0]?.id ?? "", sign: 1 });
  const [error, setError] = useState<unknown>(null);
  const put = (part: Partial<Output>) => setO({ ...o, ...part });
  const save = async () => {
    const id = idOf(name);
    if (!id) return setError(new Error("name: is needed"));
    if (id !== was && outputsOf(file)[id]) return setError(new Error(`name: ${id} is there`));
    setError(null);
    const { body, sign, ...words } = o;
    const said = Object.fromEntries(Object.entries(words).filter(([, v]) => v));
    await trial.change((f) => {
      const kept = Object.entries(outputsOf(f)).map(([k, v]): [string, unknown] =>
        k === was ? [id, { body, sign, ...said }] : [k, v],
      );
      if (was === undefined) kept.push([id, { body, sign, ...said }]);
      f.outputs = Object.fromEntries(kept);
    });
  };
  const positions = [
    NONE,
    ...sheet.positions
      .filter((x) => x !== "neutral")
      .map((x) => ({ value: x, word: positionWord(x) })),
  ];
  return (
    <Entry
      label={was === undefined ? "New output" : `Output ${plain(was)}`}
      save={save}
      button={was === undefined ? "Try it as an output" : "Try it"}
      variant="outline-primary"
      error={error ?? trial.error}
    >
      <TextField
        label={was === undefined ? "Another output" : "Output"}
        value={name}
        set={setName}
      />
      <Choice
        label="It is"
        value={o.body}
        set={(body) => put({ body })}
        options={file.bodies.map((b) => ({ value: b.id, word: plain(b.id) }))}
      />
      <Choice
        label="Counted"
        value={String(o.sign ?? 1)}
        set={(sign) => put({ sign: Number(sign) })}
        options={[
          { value: "1", word: "as it turns" },
          { value: "-1", word: "the other way" },
        ]}
      />
      <Choice
        label="Surface"
        value={o.surface ?? ""}
        set={(surface) => put({ surface })}
        options={[NONE, ...sheet.surfaces.map((s) => ({ value: s.slug, word: s.name }))]}
      />
      <Choice
        label="Input + leads to"
        value={o.plus ?? ""}
        set={(plus) => put({ plus })}
        options={positions}
      />
      <Choice
        label="Input − leads to"
        value={o.minus ?? ""}
        set={(minus) => put({ minus })}
        options={positions}
      />
      <Choice
        label="Moved by"
        value={o.input ?? ""}
        set={(input) => put({ input })}
        options={[
          { value: "", word: "the first that moves it" },
          ...same(...Object.keys(inputsOf(file))),
        ]}
      />
      {was !== undefined && (
        <button
          type="button"
          className="plain"
          onClick={() =>
            void trial.change((f) => {
              f.outputs = Object.fromEntries(
                Object.entries(outputsOf(f)).filter(([k]) => k !== was),
              );
            })
          }
        >
          Take out output {plain(was)}
        </button>
      )}
    </Entry>
  );
}

function InputForm(p: Props & { name: string; input: Input }) {
  const { input, name, trial } = p;
  const [unit, per] = shownIn(input.unit);
  const [v, setV] = useState<Record<string, string>>({
    positive: input.positive ?? "",
    limit: text(input.limit, per),
    throw_tol: text(input.throw_tol, per),
    ...Object.fromEntries(Object.entries(input.detents ?? {}).map(([k, x]) => [k, text(x, per)])),
  });
  const [error, setError] = useState<unknown>(null);
  const detents = p.sheet.positions.filter((x) => x !== "neutral" && !x.endsWith("_stop"));
  const save = async () => {
    const read = (key: string): number | undefined => {
      const typed = (v[key] ?? "").trim();
      if (!typed) return undefined;
      const value = number(typed);
      if (!Number.isFinite(value)) throw new Error(`${plain(key)}: must be a number in ${unit}`);
      return value / per;
    };
    try {
      const limit = read("limit");
      const throws = read("throw_tol");
      const at = detents
        .map((d): [string, number | undefined] => [d, read(d)])
        .filter((pair): pair is [string, number] => pair[1] !== undefined);
      setError(null);
      await trial.change((f) => {
        inputsOf(f)[name] = {
          unit: input.unit,
          ...(v.positive?.trim() ? { positive: v.positive.trim() } : {}),
          ...(limit === undefined ? {} : { limit }),
          ...(at.length ? { detents: Object.fromEntries(at) } : {}),
          ...(throws === undefined ? {} : { throw_tol: throws }),
        };
      });
    } catch (e) {
      setError(e);
    }
  };
  const field = (key: string, label: string, hint = "") => (
    <TextField
      key={key}
      label={label}
      hint={hint}
      value={v[key] ?? ""}
      set={(x) => setV({ ...v, [key]: x })}
    />
  );
  return (
    <Entry
      label={`Input ${plain(name)}`}
      save={save}
      button="Try it"
      variant="outline-primary"
      error={error ?? trial.error}
    >
      {field("positive", `${plain(name)}: positive is`, "stick aft")}
      {field("limit", `Looked at each way, ${unit}`)}
      {detents.map((d) => field(d, `${positionWord(d)} at, ${unit}`))}
      {field("throw_tol", `Both throws alike within, ${unit}`, "need not be")}
    </Entry>
  );
}

function StopForm(p: Props & { stop: Stop }) {
  const { stop, trial, file } = p;
  const slide = file.bodies.find((b) => b.id === stop.body)?.kind === "slide";
  const [unit, per] = shownIn(slide ? "m" : "rad");
  const [kind, setKind] = useState(stop.kind);
  const [first, setFirst] = useState(stop.named_first ?? false);
  const [v, setV] = useState<Record<string, string>>({
    step: text(stop.step, per),
    least: stop.least === undefined ? "" : String(stop.least),
    most: stop.most === undefined ? "" : String(stop.most),
  });
  const [error, setError] = useState<unknown>(null);
  const save = async () => {
    const turned = (v.step ?? "").trim() !== "";
    const [step, least, most] = ["step", "least", "most"].map((k) => number(v[k] || "0"));
    if (turned && ![step, least, most].every(Number.isFinite))
      return setError(new Error("half-turns: must be numbers"));
    setError(null);
    await trial.change((f) => {
      f.stops = f.stops.map((s) => {
        if (s.id !== stop.id) return s;
        const { id, body, side, at } = s;
        return {
          ...{ id, body, side, at },
          kind,
          ...(first ? { named_first: true } : {}),
          ...(turned ? { step: (step ?? 0) / per, least: least ?? 0, most: most ?? 0 } : {}),
        };
      });
    });
  };
  const field = (key: string, label: string, hint = "") => (
    <TextField
      label={label}
      hint={hint}
      value={v[key] ?? ""}
      set={(x) => setV({ ...v, [key]: x })}
    />
  );
  return (
    <Entry
      label={`Stop ${plain(stop.id)}`}
      save={save}
      button="Try it"
      variant="outline-primary"
      error={error ?? trial.error}
    >
      <Choice
        label={`Kind of stop, ${plain(stop.id)}`}
        value={kind}
        set={setKind}
        options={same("surface", "input", "servo", "actuator")}
      />
      {field("step", `A half-turn moves it by, ${unit}`, "cannot be turned")}
      {field("least", "Half-turns, from")}
      {field("most", "to")}
      <Tick label="The maker names it as the one met first" value={first} set={setFirst} />
    </Entry>
  );
}
