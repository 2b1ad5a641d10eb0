/** A section at any station: what passes there, as seen from behind; the plane is dragged. */
import { useOutletContext, useSearchParams } from "react-router";
import Form from "react-bootstrap/Form";

import type { ClearancePage, ClearanceThing } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { type Drawn, Drawing } from "./Drawing";
import {
  byLayer,
  cut,
  layerOf,
  linesOf,
  mm,
  onPaper,
  pointsOf,
  type P3,
  type Polyline,
  windowOf,
} from "./figures";

export function SectionPart({ page }: { page: ClearancePage }) {
  const { aircraft } = useOutletContext<FrameContext>();
  const [search, setSearch] = useSearchParams();
  const all = pointsOf(page.things);
  if (all.length === 0) return <p>Nothing to cut yet.</p>;
  const stations = all.map((p) => p[0]);
  const [low, high] = [Math.floor(Math.min(...stations)), Math.ceil(Math.max(...stations))];
  const station = Math.min(high, Math.max(low, Number(search.get("at") ?? (low + high) / 2)));
  const bays = aircraft.bays.filter(
    (b) => (b.x_m[0] ?? 0) * 1e3 <= station && station <= (b.x_m[1] ?? 0) * 1e3,
  );
  const cuts = [...page.things]
    .sort(byLayer)
    .map((t) => ({ t, at: cut(linesOf(t.lines), station), ends: cut(linesOf(t.ends), station) }))
    .filter((c) => c.at.length > 0 || c.ends.length > 0);
  const drawn: Drawn[] = page.things.map((t) => ({
    key: t.key,
    kind: t.kind,
    od: t.od,
    box: t.box,
    name: t.name,
    lines: linesOf(t.lines),
    faint: t.moves,
  }));
  const frame: Polyline = [
    ...cuts.flatMap((c) => [...c.at, ...c.ends].map(([y, z]): P3 => [station, y, z])),
    ...bays.flatMap((b) => corners(b, station)),
  ];
  const window = frame.length > 0 ? windowOf("behind", frame, 2.2, 40) : null;
  const least = (window?.w ?? 1000) / 220;
  return (
    <>
      <p className="clear-answer">
        <span>
          Station <strong>{Math.round(station)}</strong> mm
        </span>
        <span>{bays.map((b) => b.name).join(", ") || "outside all bays"}</span>
        <span>{cuts.length} pass here</span>
      </p>
      <label className="clear-slide">
        Drag the plane: station, mm
        <Form.Range
          min={low}
          max={high}
          step={5}
          value={station}
          aria-valuetext={`station ${Math.round(station)} mm`}
          onChange={(e) => setSearch({ part: "section", at: e.target.value }, { replace: true })}
        />
      </label>
      <Drawing
        view="side"
        window={windowOf("side", all, 6.5, 40)}
        label="Where the plane is"
        drawn={drawn}
        station={station}
      />
      {window && (
        <Drawing
          view="behind"
          window={window}
          label={`Section at station ${Math.round(station)}, as seen from behind`}
          drawn={bays.map((b) => ({
            key: b.slug,
            kind: "structure",
            od: 0,
            box: true,
            lines: [[...corners(b, station), corners(b, station)[0] as P3]],
          }))}
        >
          {cuts.map((c, n) => (
            <Spots
              n={n + 1}
              key={c.t.key}
              thing={c.t}
              station={station}
              at={c.at}
              ends={c.ends}
              least={least}
            />
          ))}
        </Drawing>
      )}
      <SectionTable cuts={cuts} />
    </>
  );
}

type Bay = { y_m: number[]; z_m: number[] };

/** The outline of a bay at a station. */
function corners(b: Bay, station: number): P3[] {
  const [y0 = 0, y1 = 0] = b.y_m.map((y) => y * 1e3);
  const [z0 = 0, z1 = 0] = b.z_m.map((z) => z * 1e3);
  return [
    [station, y0, z0],
    [station, y1, z0],
    [station, y1, z1],
    [station, y0, z1],
  ];
}

function Spots(p: {
  thing: ClearanceThing;
  /** Its number in the table. */
  n: number;
  station: number;
  at: [number, number][];
  ends: [number, number][];
  /** So that the thinnest wire is seen. */
  least: number;
}) {
  const r = Math.max(p.thing.od / 2, p.least);
  const of = ([y, z]: [number, number]) => onPaper("behind", [p.station, y, z]);
  return (
    <g className={`clear-thing of-${layerOf(p.thing.kind)}`}>
      {p.ends.map((e) => {
        const [x, y] = of(e);
        return <circle key={`e${e.join()}`} className="spot-end" cx={x} cy={y} r={r} />;
      })}
      {p.at.map((e) => {
        const [x, y] = of(e);
        return (
          <circle key={e.join()} className="spot" cx={x} cy={y} r={r}>
            <title>{p.thing.name}</title>
          </circle>
        );
      })}
      {[...p.at, ...p.ends].slice(0, 1).map((e) => {
        const [x, y] = of(e);
        return (
          <text
            key="n"
            className="spot-number"
            x={x + r * 1.3}
            y={y - r * 0.8}
            fontSize={p.least * 5}
          >
            {p.n}
          </text>
        );
      })}
    </g>
  );
}

function SectionTable(p: { cuts: { t: ClearanceThing; at: [number, number][] }[] }) {
  return (
    <table className="asked sheets-table" aria-label="What passes here">
      <thead>
        <tr>
          <th scope="col" className="num">
            No.
          </th>
          <th scope="col">Passes here</th>
          <th scope="col">Kind</th>
          <th scope="col" className="num">
            Butt line, mm
          </th>
          <th scope="col" className="num">
            Water line, mm
          </th>
          <th scope="col" className="num">
            Thick, mm
          </th>
        </tr>
      </thead>
      <tbody>
        {p.cuts.flatMap((c, i) =>
          (c.at.length ? c.at : [null]).map((at, n) => (
            <tr key={`${c.t.key} ${n}`}>
              <td className="num">{i + 1}</td>
              <th scope="row">{c.t.name}</th>
              <td>{c.t.kind}</td>
              <td className="num">{at ? mm(at[0]) : "only when moved"}</td>
              <td className="num">{at ? mm(at[1]) : ""}</td>
              <td className="num">{c.t.box ? "" : mm(c.t.od)}</td>
            </tr>
          )),
        )}
      </tbody>
    </table>
  );
}
