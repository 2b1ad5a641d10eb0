/** A labelled text field, as every small form here uses it. */
import Form from "react-bootstrap/Form";

export function TextField(p: {
  label: string;
  value: string;
  set: (value: string) => void;
  hint?: string;
  type?: string;
}) {
  return (
    <label>
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
