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
