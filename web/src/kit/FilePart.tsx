/** A document as an open file, brought in: chosen or pasted, and what is wrong with it. */
import { type ReactNode, useState } from "react";

import { TextArea } from "./fields";
import { Entry } from "./Entry";

export function FilePart(p: {
  /** What happens to the file's content. */
  take: (content: unknown) => unknown;
  button: string;
  off?: boolean;
  error?: unknown;
  variant?: string;
  children?: ReactNode;
}) {
  const [text, setText] = useState("");
  const [bad, setBad] = useState<unknown>(null);
  const save = () => {
    let content: unknown;
    try {
      content = JSON.parse(text);
      setBad(null);
    } catch (e) {
      const why = e instanceof Error ? e.message : "it cannot be read";
      setBad(new Error(`The file is not JSON: ${why}`));
      return;
    }
    void p.take(content);
  };
  return (
    <Entry
      save={save}
      className="paste"
      button={p.button}
      variant={p.variant ?? "primary"}
      off={(p.off ?? false) || !text.trim()}
      error={bad ?? p.error}
    >
      {p.children}
      <label>
        Choose a file
        <input
          type="file"
          className="form-control"
          accept=".json,application/json"
          onChange={(e) => void e.target.files?.[0]?.text().then(setText)}
        />
      </label>
      <TextArea label="or paste it here" className="paste" rows={5} value={text} set={setText} />
    </Entry>
  );
}
