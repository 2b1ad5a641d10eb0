/** Rows of a document: each with its fields and a button that takes it out, and one that adds. */
import type { ReactNode } from "react";

export function Rows<T>(p: {
  rows: readonly T[];
  set: (rows: T[]) => void;
  /** A row before anybody said anything of it. */
  empty: T;
  legend: string;
  className?: string;
  add: string;
  takeOut?: (row: T, index: number) => string;
  row: (row: T, change: (part: Partial<T>) => void, index: number) => ReactNode;
  children?: ReactNode;
}) {
  return (
    <fieldset className={`form-name ${p.className ?? ""}`}>
      <legend>{p.legend}</legend>
      {p.rows.map((row, i) => (
        <div key={i} className="inline-form">
          {p.row(row, (part) => p.set(p.rows.map((x, k) => (k === i ? { ...x, ...part } : x))), i)}
          <button
            type="button"
            className="plain"
            aria-label={p.takeOut?.(row, i)}
            onClick={() => p.set(p.rows.filter((_, k) => k !== i))}
          >
            Take out
          </button>
        </div>
      ))}
      <button type="button" className="plain" onClick={() => p.set([...p.rows, p.empty])}>
        {p.add}
      </button>
      {p.children}
    </fieldset>
  );
}
