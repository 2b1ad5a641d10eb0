/** A line dragged elsewhere: what that does to all of its pairs, at once; kept or dropped. */
import { useEffect, useRef, useState } from "react";
import { useOutletContext } from "react-router";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";

import {
  api,
  type ClearanceMoved,
  type ClearancePage,
  type ClearanceThing,
  got,
  type Verdict,
} from "../app/api";
import type { FrameContext } from "../app/Frame";
import { useWrite } from "../app/useWrite";
import { useHolding } from "../kit/held";
import { Said } from "../marks/Said";
import { VerdictMark } from "../marks/VerdictMark";
import { type Drawn, Drawing } from "./Drawing";
import { about, linesOf, mm, type P3, type Polyline, typedCorners, VIEWS } from "./figures";

const WAIT = 40;
const KEPT_ELSEWHERE = "Where it lies is kept on its own page:";

export function MoveIt(p: {
  page: ClearancePage;
  thing: ClearanceThing;
  place: P3;
  done: () => void;
}) {
  const { aircraft } = useOutletContext<FrameContext>();
  const was = linesOf(p.thing.lines)[0] ?? [];
  const [line, setLine] = useState<Polyline>(was);
  const [moved, setMoved] = useState<ClearanceMoved | null>(null);
  const [error, setError] = useState<unknown>(null);
  const turn = useRef(0);
  const corners = typedCorners(line);
  const changed = corners !== typedCorners(was);
  useHolding(changed);
  useEffect(() => {
    const mine = ++turn.current;
    const timer = window.setTimeout(() => {
      got(
        api.POST("/api/aircraft/{slug}/clearance/move", {
          params: { path: { slug: aircraft.slug } },
          body: { thing: p.thing.name, corners },
        }),
      ).then(
        (answer) => {
          if (mine !== turn.current) return;
          setMoved(answer);
          setError(null);
        },
        (e: unknown) => {
          if (mine === turn.current) setError(e);
        },
      );
    }, WAIT);
    return () => window.clearTimeout(timer);
  }, [aircraft.slug, p.thing.name, corners]);
  const drag = (n: number, to: P3) =>
    setLine((now) => now.map((c, i) => (i === n ? (to.map((x) => Math.round(x)) as P3) : c)));
  const others: Drawn[] = p.page.things
    .filter((t) => t.key !== p.thing.key)
    .map((t) => ({
      key: t.key,
      kind: t.kind,
      od: t.od,
      box: t.box,
      name: t.name,
      lines: [...linesOf(t.lines), ...linesOf(t.ends)],
      faint: t.moves,
    }));
  const shown: Drawn[] = [
    ...others,
    { key: "was", kind: "other", od: p.thing.od, lines: [was], faint: true },
    { key: "now", kind: "other", od: p.thing.od, lines: [line], state: "one", name: p.thing.name },
  ];
  return (
    <section aria-label={`${p.thing.name} elsewhere`} className="clear-move">
      <div className="clear-close">
        {VIEWS.map((view) => (
          <Drawing
            key={view}
            view={view}
            window={about(view, p.place, 180, 1.35)}
            label={`${p.thing.name} elsewhere, ${view}`}
            drawn={shown}
            handles={line.map((at, n) => ({ n, at }))}
            drag={drag}
          />
        ))}
      </div>
      <Corners line={line} set={setLine} />
      <Said error={error} />
      {moved && <MovedPairs moved={moved} />}
      <Keep thing={p.thing} line={line} changed={changed} page={p.page} done={p.done} />
    </section>
  );
}

/** The corners as numbers, for who would rather type them. */
function Corners(p: { line: Polyline; set: (line: Polyline) => void }) {
  return (
    <table className="asked clear-corners" aria-label="Corners">
      <thead>
        <tr>
          <th scope="col">Corner</th>
          <th scope="col">Station, mm</th>
          <th scope="col">Butt line, mm</th>
          <th scope="col">Water line, mm</th>
        </tr>
      </thead>
      <tbody>
        {p.line.map((at, n) => (
          <tr key={n}>
            <th scope="row">{n + 1}</th>
            {at.map((x, k) => (
              <td key={k}>
                <Form.Control
                  type="number"
                  value={x}
                  aria-label={`Corner ${n + 1}, ${["station", "butt line", "water line"][k]}`}
                  onChange={(e) => {
                    const to = Number(e.target.value);
                    if (!Number.isFinite(to)) return;
                    p.set(
                      p.line.map((c, i) =>
                        i === n ? (c.map((v, m) => (m === k ? to : v)) as P3) : c,
                      ),
                    );
                  }}
                />
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function MovedPairs({ moved }: { moved: ClearanceMoved }) {
  return (
    <table className="asked clear-moved" aria-label="What it would change">
      <thead>
        <tr>
          <th scope="col">Pair</th>
          <th scope="col" className="num">
            Was, mm
          </th>
          <th scope="col" className="num">
            Would be, mm
          </th>
          <th scope="col" className="num">
            At least, mm
          </th>
        </tr>
      </thead>
      <tbody>
        {moved.pairs.map((x) => (
          <tr key={x.key}>
            <th scope="row">
              <VerdictMark verdict={x.verdict as Verdict} /> {x.name}
            </th>
            <td className="num">{gap(x.was)}</td>
            <td className="num">
              <strong>{gap(x.gap)}</strong>
            </td>
            <td className="num">{x.rule === null ? "not entered" : mm(x.rule)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

const gap = (x: number | null): string => (x === null ? "far" : x <= 0 ? "touch" : mm(x));

function Keep(p: {
  thing: ClearanceThing;
  line: Polyline;
  changed: boolean;
  page: ClearancePage;
  done: () => void;
}) {
  const { aircraft } = useOutletContext<FrameContext>();
  const { write, error, busy } = useWrite();
  const [unread, setUnread] = useState<unknown>(null);
  const keep = async () => {
    const body = p.thing.keep === "harness" ? await ofBundle() : ofShape();
    if (!body) return;
    const at = p.thing.keep === "harness" ? ("harness" as const) : ("clearance" as const);
    const path = `${at}/rows/${p.thing.row}` as const;
    if (await write(path as "clearance/rows/x", body as never, p.thing.name, "PATCH")) p.done();
  };
  const ofShape = () => {
    const row = p.page.results.find((r) => r.slug === p.thing.row);
    if (!row) return null;
    const corners = p.line.map((c) => ({ x: `${c[0]} mm`, y: `${c[1]} mm`, z: `${c[2]} mm` }));
    return kept(row, { ...row.typed, corners });
  };
  const ofBundle = async () => {
    try {
      const all = await got(
        api.GET("/api/aircraft/{slug}/harness", { params: { path: { slug: aircraft.slug } } }),
      );
      const row = all.results.find((r) => r.slug === p.thing.row);
      return row ? kept(row, { ...row.typed, points: typedCorners(p.line) }) : null;
    } catch (e) {
      setUnread(e);
      return null;
    }
  };
  return (
    <>
      <Said error={error ?? unread} />
      {p.thing.keep ? (
        <div className="buttons">
          <Button disabled={busy || !p.changed} onClick={() => void keep()}>
            Keep it there
          </Button>
          <Button variant="outline-primary" onClick={p.done}>
            Drop
          </Button>
        </div>
      ) : (
        <p>
          {KEPT_ELSEWHERE} <a href={`/aircraft/${aircraft.slug}/${p.thing.link}`}>{p.thing.name}</a>
          .
        </p>
      )}
    </>
  );
}

type Kept = {
  kind: string;
  name: string;
  version: number;
  source: number | null;
  page: string;
};

const kept = (row: Kept, typed: Record<string, unknown>) => ({
  kind: row.kind,
  name: row.name,
  typed,
  source: row.source,
  page: row.page,
  reason: "",
  version: row.version,
});
