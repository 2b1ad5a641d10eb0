/** A labelled text field, as every small form here uses it. */
import Form from "react-bootstrap/Form";

export function TextField(p: {
  label: string;
  value: string;
  set: (value: string) => void;
  hint?: string;
  type?: string;
  /** Room for a sentence. */
  sentence?: boolean;
}) {
  return (
    <label className={p.sentence ? "sentence" : undefined}>
      {p.label}
      <Form.Control
        type={p.type ?? "text"}
        value={p.value}
        placeholder={p.hint}
        onChange={(e) => p.set(e.target.value)}
      />
    </label>
  );
}

export type Option = { value: string; word: string };

/** A labelled choice. */
export function Choice(p: {
  label: string;
  value: string;
  set: (value: string) => void;
  options: Option[];
}) {
  return (
    <label>
      {p.label}
      <Form.Select value={p.value} onChange={(e) => p.set(e.target.value)}>
        {p.options.map((o) => (
          <option key={o.value} value={o.value}>
            {o.word}
          </option>
        ))}
      </Form.Select>
    </label>
  );
}

/** A labelled tick. */
export function Tick(p: { label: string; value: boolean; set: (value: boolean) => void }) {
  return (
    <label className="tick">
      <input type="checkbox" checked={p.value} onChange={(e) => p.set(e.target.checked)} />
      {p.label}
    </label>
  );
}

/** Words as options of themselves. */
export const same = (...words: string[]): Option[] =>
  words.map((w) => ({ value: w, word: w.replaceAll("_", " ") }));

/** A labelled text of several lines. */
export function TextArea(p: {
  label: string;
  value: string;
  set: (value: string) => void;
  rows?: number;
  hint?: string;
  className?: string;
}) {
  return (
    <label className={p.className}>
      {p.label}
      <Form.Control
        as="textarea"
        rows={p.rows ?? 3}
        value={p.value}
        placeholder={p.hint}
        onChange={(e) => p.set(e.target.value)}
      />
    </label>
  );
}

/** Text fields from a list: key, label, hint. */
export function Fields<K extends string, V extends Partial<Record<K, string>>>(p: {
  of: readonly (readonly [key: K, label: string, hint?: string])[];
  values: V;
  set: (values: V) => void;
}) {
  return p.of.map(([key, label, hint]) => (
    <TextField
      key={key}
      label={label}
      {...(hint ? { hint } : {})}
      value={p.values[key] ?? ""}
      set={(value) => p.set({ ...p.values, [key]: value })}
    />
  ));
}
