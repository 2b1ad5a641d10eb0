/** A row of a trade as typed: its fields as its kind declares them. */
import { useEffect, useRef, useState } from "react";
import { useOutletContext } from "react-router";
import Button from "react-bootstrap/Button";

import type { SheetField } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { useWrite } from "../app/useWrite";
import { Entry } from "../kit/Entry";
import { Choice, TextField } from "../kit/fields";
import { AskedField, limitsOf, type Typed } from "./AskedField";
import { Grouped } from "./Grouped";
import { LimitDocument } from "./LimitDocument";

/** A row as it is kept. */
export type TypedRow = {
  slug: string;
  kind: string;
  name: string;
  version: number;
  typed: Record<string, unknown>;
  source: number | null;
  page: string;
};
export type RowKind = { id: string; title: string; asks: string; fields: SheetField[] };

export function RowForm(p: {
  /** Where rows are kept, under the aircraft's address. */
  at: "harness" | "weight" | "clearance";
  kind: RowKind;
  one?: TypedRow;
  /** All rows: a field that names another is chosen among them. */
  rows: readonly { kind: string; name: string }[];
  /** Which kinds of rows a field, or a column, names. */
  names: Record<string, readonly string[]>;
  hint: string;
  /** What a new one begins with. */
  begun?: { name: string; typed: Typed } | undefined;
  done: (slug: string) => void;
}) {
  const { aircraft } = useOutletContext<FrameContext>();
  const { write, error, busy } = useWrite();
  const { kind } = p;
  const title = kind.title.toLowerCase();
  const was = (p.one?.typed ?? {}) as Typed;
  const begun = p.one?.source ? String(p.one.source) : "";
  const [name, setName] = useState(p.one?.name ?? p.begun?.name ?? "");
  const [v, setV] = useState<Typed>(p.one ? was : (p.begun?.typed ?? {}));
  const [cited, setCited] = useState({ source: begun, page: p.one?.page ?? "", reason: "" });
  const { source, page, reason } = cited;
  const here = useRef(true);
  useEffect(() => {
    here.current = true;
    return () => {
      here.current = false;
    };
  }, []);
  const limits = limitsOf(kind.fields);
  const otherwise =
    p.one && (source !== begun || page !== p.one.page || limits.some((l) => l.of(v) !== l.of(was)));
  const keep = async () => {
    const body = {
      kind: kind.id as "wire" & "part" & "shape",
      name,
      typed: v,
      source: source ? Number(source) : null,
      page,
      reason,
    };
    const kept = p.one
      ? await write(
          `${p.at}/rows/${p.one.slug}` as const,
          { ...body, version: p.one.version },
          name,
          "PATCH",
        )
      : await write(p.at, body, `${title} ${name}`);
    // Left meanwhile for another form: that one stays open.
    if (kept && here.current) p.done((kept as TypedRow).slug);
  };
  const options = (key: string) => {
    const kinds = p.names[key] ?? [];
    return p.rows
      .filter((r) => kinds.includes(r.kind))
      .map((r) => ({ value: r.name, word: r.name }));
  };
  return (
    <Entry
      label={p.one ? `Change ${p.one.name}` : `New ${title}`}
      save={keep}
      error={error}
      className="sheet-form"
    >
      <h2>{p.one ? `Change ${p.one.name}` : `New ${title}`}</h2>
      <p>{kind.asks}</p>
      <Grouped
        fields={kind.fields}
        value={v}
        first={<TextField label="Name *" value={name} set={setName} hint={p.hint} />}
        one={(f) =>
          f.of !== "words" && options(f.key).length > 0 ? (
            <Choice
              key={f.key}
              label={f.needed ? `${f.label} *` : f.label}
              value={typed(v[f.key])}
              set={(x) => setV({ ...v, [f.key]: x })}
              options={[{ value: "", word: f.needed ? "choose" : "not said" }, ...options(f.key)]}
            />
          ) : (
            <AskedField
              key={f.key}
              field={{
                ...f,
                columns: f.columns.map((c) => {
                  const known = c.of === "text" ? options(c.key) : [];
                  return known.length ? { ...c, choices: known } : c;
                }),
              }}
              unit={aircraft.length_unit}
              things={{}}
              value={v[f.key]}
              set={(x) => setV({ ...v, [f.key]: x })}
            />
          )
        }
      />
      <LimitDocument
        limits={limits.map((l) => l.label)}
        said={limits.some((l) => l.of(v) !== "")}
        changed={Boolean(otherwise)}
        is={cited}
        set={setCited}
      />
      <div className="buttons">
        <Button type="submit" disabled={busy}>
          Keep
        </Button>
        <Button variant="outline-primary" onClick={() => p.done(p.one?.slug ?? "")}>
          Leave
        </Button>
      </div>
    </Entry>
  );
}

const typed = (x: Typed[string] | undefined) => (typeof x === "string" ? x : "");
