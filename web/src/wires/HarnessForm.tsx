/** A row of the harness as typed: its fields as its kind declares them. */
import { useEffect, useRef, useState } from "react";
import { useOutletContext } from "react-router";
import Button from "react-bootstrap/Button";

import type { HarnessPage, HarnessRow } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { useWrite } from "../app/useWrite";
import { Entry } from "../kit/Entry";
import { Choice, TextField } from "../kit/fields";
import { LimitDocument } from "../worksheets/LimitDocument";
import { AskedField, limitsOf, type Typed } from "../worksheets/AskedField";

export function HarnessForm(p: {
  page: HarnessPage;
  kind: string;
  one?: HarnessRow;
  done: (slug: string) => void;
}) {
  const { aircraft } = useOutletContext<FrameContext>();
  const { write, error, busy } = useWrite();
  const kind = p.page.kinds.find((k) => k.id === p.kind);
  const was = (p.one?.typed ?? {}) as Typed;
  const begun = p.one?.source ? String(p.one.source) : "";
  const [name, setName] = useState(p.one?.name ?? "");
  const [v, setV] = useState<Typed>(was);
  const [cited, setCited] = useState({ source: begun, page: p.one?.page ?? "", reason: "" });
  const { source, page, reason } = cited;
  const here = useRef(true);
  useEffect(() => {
    here.current = true;
    return () => {
      here.current = false;
    };
  }, []);
  if (!kind) return null;
  const limits = limitsOf(kind.fields);
  const otherwise =
    p.one && (source !== begun || page !== p.one.page || limits.some((l) => l.of(v) !== l.of(was)));
  const keep = async () => {
    const body = {
      kind: p.kind as "wire",
      name,
      typed: v,
      source: source ? Number(source) : null,
      page,
      reason,
    };
    const kept = p.one
      ? await write(
          `harness/rows/${p.one.slug}`,
          { ...body, version: p.one.version },
          name,
          "PATCH",
        )
      : await write("harness", body, `${p.kind} ${name}`);
    // Left meanwhile for another form: that one stays open.
    if (kept && here.current) p.done((kept as HarnessRow).slug);
  };
  // A field that names another row is chosen among those there are.
  const rowsOf = (key: string) =>
    CHOSEN.includes(key) ? p.page.results.filter((r) => r.kind === key) : [];
  return (
    <Entry
      label={p.one ? `Change ${p.one.name}` : `New ${p.kind}`}
      save={keep}
      error={error}
      className="sheet-form"
    >
      <h2>{p.one ? `Change ${p.one.name}` : `New ${p.kind}`}</h2>
      <p>{kind.asks}</p>
      <div className="inline-form">
        <TextField label="Name *" value={name} set={setName} hint={NAMES[p.kind] ?? ""} />
        {kind.fields.map((f) =>
          rowsOf(f.key).length > 0 ? (
            <Choice
              key={f.key}
              label={f.needed ? `${f.label} *` : f.label}
              value={typed(v[f.key])}
              set={(x) => setV({ ...v, [f.key]: x })}
              options={[
                { value: "", word: f.needed ? "choose" : "not said" },
                ...rowsOf(f.key).map((c) => ({ value: c.name, word: c.name })),
              ]}
            />
          ) : (
            <AskedField
              key={f.key}
              field={f}
              unit={aircraft.length_unit}
              things={{}}
              value={v[f.key]}
              set={(x) => setV({ ...v, [f.key]: x })}
            />
          ),
        )}
      </div>
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

const CHOSEN = ["circuit", "bus"];
const typed = (x: Typed[string] | undefined) => (typeof x === "string" ? x : "");
const NAMES: Record<string, string> = {
  circuit: "Landing light",
  wire: "W12",
  connector: "P3",
  bundle: "Aft bundle",
  bus: "Main bus",
};
