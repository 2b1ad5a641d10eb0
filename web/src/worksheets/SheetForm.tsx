/** A worksheet as typed, worked out while it is typed, and kept. */
import { useEffect, useRef, useState } from "react";
import { useOutletContext } from "react-router";
import Button from "react-bootstrap/Button";

import { api, got, type Worksheet, type SheetKind, type SheetWorked } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { useWrite } from "../app/useWrite";
import { Entry } from "../kit/Entry";
import { TextField, Tick } from "../kit/fields";
import { type Aids, Answer, type Figures } from "./Answer";
import type { Row } from "../kit/TableField";
import { Grouped } from "./Grouped";
import { LimitDocument } from "./LimitDocument";
import { AskedField, limitsOf, type Things, type Typed } from "./AskedField";

const PAUSE = 700;

export function SheetForm(p: {
  kind: SheetKind;
  one?: Worksheet;
  things: Things;
  figures: Figures;
  aids?: Aids | undefined;
  done: (slug: string) => void;
}) {
  const { aircraft } = useOutletContext<FrameContext>();
  const { write, error, busy } = useWrite();
  const begun = p.one?.source ? String(p.one.source) : "";
  const [v, setV] = useState<Typed>((p.one?.typed ?? {}) as Typed);
  const [name, setName] = useState(p.one?.name ?? "");
  const [bays, setBays] = useState<string[]>(p.one?.bays ?? []);
  const [cited, setCited] = useState({ source: begun, page: p.one?.page ?? "", reason: "" });
  const { source, page, reason } = cited;
  const body = {
    kind: p.kind.id,
    typed: v,
    source: source ? Number(source) : null,
    page,
  };
  const limits = limitsOf(p.kind.fields);
  const otherwise =
    p.one &&
    (source !== begun ||
      page !== p.one.page ||
      limits.some((l) => l.of(v) !== l.of((p.one?.typed ?? {}) as Typed)));
  const { tried, wrong, work } = useTried(aircraft.slug, body);
  const keep = async () => {
    const sent = { ...body, name, bays, reason };
    const kept = p.one
      ? await write(`worksheets/${p.one.slug}`, { ...sent, version: p.one.version }, name, "PATCH")
      : await write("worksheets", sent, `${p.kind.title} ${name}`);
    if (kept) p.done((kept as Worksheet).slug);
  };
  const set = (key: string) => (x: string | Row[]) => setV({ ...v, [key]: x });
  const starters = p.kind.starters.filter((s) => s.live || !p.one);
  const Aid = p.aids?.[p.kind.id];
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
        {starters.length > 0 && (
          <p className="buttons">
            {starters.map((s) => (
              <Button
                key={s.name}
                variant="outline-primary"
                onClick={() => setV({ ...v, ...(s.typed as Typed) })}
              >
                {p.one ? "Take anew" : "Begin with"}: {s.name}
              </Button>
            ))}
          </p>
        )}
        <div className="inline-form">
          <TextField label="Name of this sheet *" value={name} set={setName} />
        </div>
        {Aid && <Aid typed={v} set={(more) => setV((was) => ({ ...was, ...more }))} />}
        <Grouped
          fields={p.kind.fields}
          value={v}
          one={(f) => (
            <AskedField
              key={f.key}
              field={f}
              unit={aircraft.length_unit}
              things={p.things}
              value={v[f.key]}
              set={set(f.key)}
            />
          )}
        />
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
        <LimitDocument
          limits={limits.map((l) => l.label)}
          said={limits.some((l) => l.of(v) !== "")}
          changed={Boolean(otherwise)}
          is={cited}
          set={setCited}
        />
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

const where = (kind: SheetKind): string =>
  kind.fields.some((f) => f.of === "thing") ? "where its tube lies" : "all bays";
