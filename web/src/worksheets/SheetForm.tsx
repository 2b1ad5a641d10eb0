/** A worksheet as typed, worked out while it is typed, and kept. */
import { useEffect, useRef, useState } from "react";
import { Link, useOutletContext } from "react-router";
import Button from "react-bootstrap/Button";

import {
  api,
  got,
  type Worksheet,
  type SheetField,
  type SheetKind,
  type SheetsPage,
  type SheetWorked,
} from "../app/api";
import type { FrameContext } from "../app/Frame";
import { useSources } from "../app/queries";
import { useWrite } from "../app/useWrite";
import { Entry } from "../kit/Entry";
import { Choice, TextField, Tick } from "../kit/fields";
import { Answer, type Figures } from "./Answer";
import { choicesOf, type Row, TableField } from "../kit/TableField";

export type Typed = Record<string, string | Row[]>;
const PAUSE = 700;

type Things = SheetsPage["things"];

export function SheetForm(p: {
  kind: SheetKind;
  one?: Worksheet;
  things: Things;
  figures: Figures;
  done: (slug: string) => void;
}) {
  const { aircraft } = useOutletContext<FrameContext>();
  const sources = useSources(aircraft.slug);
  const { write, error, busy } = useWrite();
  const begun = p.one?.source ? String(p.one.source) : "";
  const [v, setV] = useState<Typed>((p.one?.typed ?? {}) as Typed);
  const [name, setName] = useState(p.one?.name ?? "");
  const [bays, setBays] = useState<string[]>(p.one?.bays ?? []);
  const [source, setSource] = useState(begun);
  const [page, setPage] = useState(p.one?.page ?? "");
  const [reason, setReason] = useState("");
  const body = {
    kind: p.kind.id,
    typed: v,
    source: source ? Number(source) : null,
    page,
  };
  const limits = p.kind.fields.filter((f) => f.limit);
  const said = limits.some((f) => filled(v[f.key]));
  const otherwise =
    p.one &&
    (source !== begun ||
      page !== p.one.page ||
      limits.some(
        (f) => JSON.stringify(v[f.key] ?? "") !== JSON.stringify(p.one?.typed[f.key] ?? ""),
      ));
  const { tried, wrong, work } = useTried(aircraft.slug, body);
  const keep = async () => {
    const sent = { ...body, name, bays, reason };
    const kept = p.one
      ? await write(`worksheets/${p.one.slug}`, { ...sent, version: p.one.version }, name, "PATCH")
      : await write("worksheets", sent, `${p.kind.title} ${name}`);
    if (kept) p.done((kept as Worksheet).slug);
  };
  const set = (key: string) => (x: string | Row[]) => setV({ ...v, [key]: x });
  const heads = [...new Set(p.kind.fields.map((f) => f.under))];
  return (
    <>
      <Entry
        label={p.one ? `Change ${p.one.name}` : `New: ${p.kind.title}`}
        save={keep}
        error={error ?? wrong}
        className="sheet-form"
      >
        <h2>{p.one ? `Change ${p.one.name}` : p.kind.title}</h2>
        <p>{p.kind.asks}</p>
        {!p.one && p.kind.starters.length > 0 && (
          <p className="buttons">
            {p.kind.starters.map((s) => (
              <Button
                key={s.name}
                variant="outline-primary"
                onClick={() => setV({ ...v, ...(s.typed as Typed) })}
              >
                Begin with: {s.name}
              </Button>
            ))}
          </p>
        )}
        <div className="inline-form">
          <TextField label="Name of this sheet *" value={name} set={setName} />
        </div>
        {heads.map((head) => (
          <Group key={head} head={head} open={isOpen(p.kind, head, v)}>
            {p.kind.fields
              .filter((f) => f.under === head)
              .map((f) => (
                <One
                  key={f.key}
                  field={f}
                  unit={aircraft.length_unit}
                  things={p.things}
                  value={v[f.key]}
                  set={set(f.key)}
                />
              ))}
          </Group>
        ))}
        {limits.length > 0 && (
          <fieldset className="form-name">
            <legend>Document of {limits.map((f) => f.label.toLowerCase()).join(", ")}</legend>
            <div className="inline-form">
              <Choice
                label={said ? "From *" : "From"}
                value={source}
                set={setSource}
                options={[
                  { value: "", word: "no document" },
                  ...(sources.data?.results ?? []).map((s) => ({
                    value: String(s.id),
                    word: s.cited,
                  })),
                ]}
              />
              <TextField label="Page" value={page} set={setPage} />
              {sources.data?.count === 0 && (
                <Link to={`/a/${aircraft.slug}/sources`}>Enter the document first</Link>
              )}
            </div>
          </fieldset>
        )}
        <details open={bays.length > 0}>
          <summary>Where it belongs: {bays.length ? `${bays.length} bays` : where(p.kind)}</summary>
          <fieldset>
            <legend>Bays</legend>
            {aircraft.bays.map((b) => (
              <Tick
                key={b.slug}
                label={b.name}
                value={bays.includes(b.slug)}
                set={(on) => setBays(on ? [...bays, b.slug] : bays.filter((x) => x !== b.slug))}
              />
            ))}
          </fieldset>
        </details>
        {otherwise && (
          <TextField
            sentence
            label="Why the limit or its document is changed"
            value={reason}
            set={setReason}
          />
        )}
        <div className="buttons">
          <Button variant="outline-primary" onClick={() => void work()}>
            Work it out
          </Button>
          <Button type="submit" disabled={busy}>
            Keep
          </Button>
          <Button variant="outline-primary" onClick={() => p.done(p.one?.slug ?? "")}>
            Leave
          </Button>
        </div>
      </Entry>
      {tried && (
        <section aria-label="Worked out, not kept" className="tried">
          <h2>Worked out, not kept</h2>
          <Answer
            worked={tried}
            Figure={p.figures[p.kind.id]}
            checks
            place={(key, text) => setV((was) => ({ ...was, [key]: text }))}
          />
        </section>
      )}
    </>
  );
}

/** Worked out by hand once, then again after each pause in typing; what is refused on the way is
 * said only where it was asked for. */
function useTried(
  slug: string,
  body: { kind: string; typed: Typed; source: number | null; page: string },
) {
  const [tried, setTried] = useState<SheetWorked | null>(null);
  const [wrong, setWrong] = useState<unknown>(null);
  const turn = useRef(0);
  const asked = useRef(false);
  const now = JSON.stringify(body);
  const work = async (quiet = false) => {
    const mine = ++turn.current;
    asked.current = true;
    try {
      const answer = await got(
        api.POST("/api/aircraft/{slug}/worksheet-trial", {
          params: { path: { slug } },
          body,
        }),
      );
      if (mine !== turn.current) return;
      setTried(answer);
      setWrong(null);
    } catch (e) {
      if (mine !== turn.current) return;
      setTried(null);
      setWrong(quiet ? null : e);
    }
  };
  const again = useRef(work);
  useEffect(() => {
    again.current = work;
  });
  useEffect(() => {
    if (!asked.current) return;
    const wait = setTimeout(() => void again.current(true), PAUSE);
    return () => clearTimeout(wait);
  }, [now]);
  return { tried, wrong, work: () => work() };
}

const filled = (x: string | Row[] | undefined): boolean =>
  Array.isArray(x) ? x.some((r) => Object.values(r).some((c) => c.trim())) : Boolean(x?.trim());

const where = (kind: SheetKind): string =>
  kind.fields.some((f) => f.of === "thing") ? "where its tube lies" : "all bays";

const isOpen = (kind: SheetKind, head: string, v: Typed): boolean =>
  kind.fields.some((f) => f.under === head && (f.needed || filled(v[f.key])));

function Group(p: { head: string; open: boolean; children: React.ReactNode }) {
  if (!p.head) return <div className="inline-form">{p.children}</div>;
  return (
    <details open={p.open}>
      <summary>{p.head}</summary>
      <div className="inline-form">{p.children}</div>
    </details>
  );
}

function One(p: {
  field: SheetField;
  unit: string;
  things: Things;
  value: string | Row[] | undefined;
  set: (x: string | Row[]) => void;
}) {
  const { field: f } = p;
  if (f.of === "table")
    return (
      <TableField
        label={f.label}
        needed={f.needed}
        columns={f.columns.map((c) => ({ ...c, label: measured(c, p.unit) }))}
        rows={Array.isArray(p.value) ? p.value : []}
        set={p.set}
      />
    );
  const value = typeof p.value === "string" ? p.value : "";
  const label = `${measured(f, p.unit)}${f.needed ? " *" : ""}`;
  const options = f.of === "thing" ? (p.things[f.things] ?? []) : choicesOf(f);
  if (f.of === "thing" || options.length)
    return (
      <Choice
        label={label}
        value={value}
        set={p.set}
        options={[{ value: "", word: f.needed ? "choose" : "not said" }, ...options]}
      />
    );
  const hint = f.hint ? { hint: f.hint } : {};
  return (
    <TextField
      label={label}
      value={value}
      set={p.set}
      {...(f.of === "date" ? { type: "date" } : hint)}
    />
  );
}

const UNITS: Record<string, string> = {
  ...{ "1": "", deg: "°", C: "°C" },
  ...{ ohm: "Ω", mohm: "mΩ", kohm: "kΩ", Mohm: "MΩ" },
};

/** The label with the unit of a bare number. */
function measured(f: { label: string; of: string; unit: string }, length: string): string {
  const unit = f.of === "length" ? f.unit || length : f.unit;
  const shown = UNITS[unit] ?? unit;
  return shown && !f.label.includes(shown) ? `${f.label}, ${shown}` : f.label;
}
