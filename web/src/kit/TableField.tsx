/** Rows typed or pasted from a spreadsheet: a cell for each column, one empty row to begin. */
import { useState } from "react";

import type { SheetColumn } from "../app/api";
import { cellsOf, withoutHead } from "./cells";

export type Row = Record<string, string>;

export function TableField(p: {
  label: string;
  columns: SheetColumn[];
  rows: Row[];
  set: (rows: Row[]) => void;
  needed: boolean;
  /** Whether rows may come from a file too; they go below what is there. */
  file?: boolean;
}) {
  const [wrong, setWrong] = useState("");
  const rows = p.rows.length ? p.rows : [{}];
  const change = (at: number, key: string, value: string) =>
    p.set(rows.map((r, i) => (i === at ? { ...r, [key]: value } : r)));
  /** Cells of a spreadsheet go from this cell on to the right and down. */
  const paste = (text: string, at: number, column: number): boolean => {
    const cells = withoutHead(
      cellsOf(text),
      p.columns.map((c) => c.label),
    );
    if (cells.length === 1 && cells[0]?.length === 1) return false;
    const widest = Math.max(...cells.map((c) => c.length));
    const room = p.columns.length - column;
    if (widest > room) {
      setWrong(`${widest} columns were pasted; from here there are ${room}.`);
      return true;
    }
    const found = [...rows];
    cells.forEach((line, n) => {
      const row = { ...found[at + n] };
      line.forEach((cell, k) => {
        const c = p.columns[column + k];
        if (c) row[c.key] = meant(c, cell.trim());
      });
      found[at + n] = row;
    });
    setWrong("");
    p.set(found);
    return true;
  };
  return (
    <fieldset className="form-name table-field">
      <legend>
        {p.label}
        {p.needed && " *"}
      </legend>
      <div className="wide-table">
        <table className="asked">
          <thead>
            <tr>
              {p.columns.map((c) => (
                <th key={c.key} scope="col">
                  {c.label}
                  {c.needed && " *"}
                </th>
              ))}
              <th scope="col">
                <span className="visually-hidden">Take out</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {rows.map((row, i) => (
              <tr key={i}>
                {p.columns.map((c, k) => (
                  <td key={c.key}>
                    <TableCell
                      column={c}
                      label={`${p.label}, row ${i + 1}, ${c.label}`}
                      value={row[c.key] ?? ""}
                      set={(v) => change(i, c.key, v)}
                      paste={(text) => paste(text, i, k)}
                    />
                  </td>
                ))}
                <td>
                  <button
                    type="button"
                    className="plain"
                    aria-label={`Take out row ${i + 1} of ${p.label}`}
                    onClick={() => p.set(rows.filter((_, n) => n !== i))}
                  >
                    Take out
                  </button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <button type="button" className="plain" onClick={() => p.set([...rows, {}])}>
        Add a row
      </button>
      {p.file && (
        <label className="plain-file">
          From a file (CSV)
          <input
            type="file"
            accept=".csv,.txt,text/csv,text/plain"
            onChange={(e) => {
              const [file] = e.target.files ?? [];
              e.target.value = "";
              if (file) void file.text().then((text) => paste(text, filled(rows), 0));
            }}
          />
        </label>
      )}
      {wrong && (
        <p className="said" role="alert">
          {p.label}: {wrong}
        </p>
      )}
    </fieldset>
  );
}

/** How many rows there are, without empty ones at the end. */
const filled = (rows: Row[]): number =>
  rows.findLastIndex((r) => Object.values(r).some((v) => v.trim())) + 1;

function TableCell(p: {
  column: SheetColumn;
  label: string;
  value: string;
  set: (value: string) => void;
  paste: (text: string) => boolean;
}) {
  const choices = choicesOf(p.column);
  if (choices.length)
    return (
      <select
        className="form-select"
        aria-label={p.label}
        value={p.value}
        onChange={(e) => p.set(e.target.value)}
      >
        <option value="" />
        {choices.map((o) => (
          <option key={o.value} value={o.value}>
            {o.word}
          </option>
        ))}
      </select>
    );
  return (
    <input
      className="form-control"
      aria-label={p.label}
      placeholder={p.column.hint}
      value={p.value}
      onChange={(e) => p.set(e.target.value)}
      onPaste={(e) => {
        if (p.paste(e.clipboardData.getData("text"))) e.preventDefault();
      }}
    />
  );
}

/** The words of a choice; yes and no of what is either. */
export const choicesOf = (f: SheetColumn) =>
  f.of === "yes"
    ? [
        { value: "yes", word: "yes" },
        { value: "no", word: "no" },
      ]
    : f.choices;

/** What a pasted cell means: a choice by its word or its value. */
function meant(c: SheetColumn, cell: string): string {
  const low = cell.toLowerCase();
  const same = choicesOf(c).find((o) => [o.value, o.word].some((x) => x.toLowerCase() === low));
  return same ? same.value : cell;
}
