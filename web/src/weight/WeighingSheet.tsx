/** A weighing on the right: what to prepare, what each scale showed, which uncertainty matters. */
import { useState } from "react";
import { useOutletContext } from "react-router";
import Button from "react-bootstrap/Button";

import type { WeightPage, WeightRow } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { useWrite } from "../app/useWrite";
import { Entry } from "../kit/Entry";
import { Choice, Fields } from "../kit/fields";
import { TakeIt } from "../kit/TakeIt";
import { Said } from "../marks/Said";
import { capital, shown, when } from "../marks/words";
import { Signatures } from "../signoff/SignPanel";
import { drawn, type WeighingFigure } from "./figures";
import { ScalesLive } from "./ScalesLive";

const EMPTY = { doing: "read" as const, item: "", wheel: "", shown: "", u: "", note: "" };

export function WeighingSheet(p: {
  page: WeightPage;
  row: WeightRow;
  may: boolean;
  again: () => void;
}) {
  const { aircraft } = useOutletContext<FrameContext>();
  const { write, error, busy } = useWrite();
  const { row } = p;
  const at = `weight/rows/${row.slug}/steps` as const;
  const figure = drawn<WeighingFigure>(row);
  const open = p.page.preparations.filter((x) => !row.prepared.includes(x.value));
  const prepare = (item: string) =>
    void write(at, { ...EMPTY, doing: "prepared", item }, `${row.name}: prepared`);
  return (
    <>
      {figure?.result && <Result r={figure.result} />}
      <section aria-label="Preparation">
        <h2>Preparation</h2>
        {open.length === 0 && <p>All of it is said.</p>}
        {open.length > 0 && (
          <ol className="preparations">
            {open.map((x, i) => (
              <li key={x.value}>
                {x.word}{" "}
                {p.may && (
                  <Button
                    size="sm"
                    variant={i ? "outline-primary" : "primary"}
                    disabled={busy}
                    aria-label={`Done: ${x.word}`}
                    onClick={() => prepare(x.value)}
                  >
                    Done
                  </Button>
                )}
              </li>
            ))}
          </ol>
        )}
      </section>
      <section aria-label="Scales">
        <h2>Scales</h2>
        {p.may && figure && <ScalesLive row={row} wheels={figure.wheels} />}
        {p.may && figure && (
          <ByHand
            key={figure.wheels.find((w) => w.kg === null)?.wheel ?? ""}
            row={row}
            wheels={figure.wheels.map((w) => w.wheel)}
            next={figure.wheels.find((w) => w.kg === null)?.wheel ?? ""}
          />
        )}
      </section>
      {figure && figure.budget.length > 0 && <Budget rows={figure.budget} />}
      {p.may && figure?.result && !row.typed.again && (
        <p>
          <Button variant="outline-primary" onClick={p.again}>
            Weigh again, every scale under another wheel
          </Button>
        </p>
      )}
      <h2>What was done</h2>
      <Said error={error} />
      <ul className="happened">
        {row.events.slice(0, MOST).map((e, i) => (
          <li key={e.id}>
            {capital(e.said)}
            <span className="quiet">
              {" "}
              {e.by}, {when(e.at)}
            </span>
            {p.may && i === 0 && (
              <button
                type="button"
                className="plain"
                disabled={busy}
                onClick={() => void write(`${at}/${e.id}/undo` as const, {}, `${row.name}: undo`)}
              >
                Take back
              </button>
            )}
          </li>
        ))}
        {row.events.length > MOST && <li className="quiet">and {row.events.length - MOST} more</li>}
        {row.events.length === 0 && <li>Nothing yet.</li>}
      </ul>
      <TakeIt
        at={`/api/aircraft/${aircraft.slug}/weight/rows/${row.slug}`}
        of={[["record.pdf", "Weight and balance record (PDF)"]]}
      />
      <h2>Signatures</h2>
      <Signatures slug={aircraft.slug} scope={`weight:${row.slug}`} />
    </>
  );
}

const MOST = 6;

function Result({ r }: { r: NonNullable<WeighingFigure["result"]> }) {
  return (
    <dl className="facts weighed-result">
      <div>
        <dt>Empty mass</dt>
        <dd>
          {r.mass_kg.toFixed(1)} kg ± {r.U_kg.toFixed(1)}
        </dd>
      </div>
      <div>
        <dt>Arm</dt>
        <dd>
          {r.x_mm.toFixed(0)} mm ± {r.U_mm.toFixed(1)}
        </dd>
      </div>
      <div>
        <dt>Moment</dt>
        <dd>
          {r.moment.toFixed(1)} kg·m ± {r.U_moment.toFixed(1)}
        </dd>
      </div>
      <div>
        <dt>To the right</dt>
        <dd>{r.y_mm === null ? "not measured" : shown(r.y_mm, " mm", 1)}</dd>
      </div>
      <div>
        <dt>On the scales</dt>
        <dd>
          {r.weighed_kg.toFixed(1)} kg at {r.weighed_mm.toFixed(0)} mm
        </dd>
      </div>
    </dl>
  );
}

/** One scale, read by eye. */
function ByHand(p: { row: WeightRow; wheels: string[]; next: string }) {
  const { write, error, busy } = useWrite();
  const [wheel, setWheel] = useState(p.next || (p.wheels[0] ?? ""));
  const [v, setV] = useState({ shown: "", u: "" });
  const keep = async () => {
    const body = { ...EMPTY, ...v, wheel };
    if (await write(`weight/rows/${p.row.slug}/steps`, body, `${p.row.name}: ${wheel}`))
      setV({ shown: "", u: "" });
  };
  return (
    <Entry label="A scale by hand" save={keep} button="Keep it" off={busy} error={error}>
      <Choice
        label="Wheel"
        value={wheel}
        set={setWheel}
        options={p.wheels.map((w) => ({ value: w, word: w }))}
      />
      <Fields of={READ} values={v} set={setV} />
    </Entry>
  );
}

const READ = [
  ["shown", "The scale shows", "118.4 kg"],
  ["u", "Good to ±, if not the scale’s", "0.2 kg"],
] as const;

/** Which input’s uncertainty matters most, and what would be left without it. */
function Budget({ rows }: { rows: WeighingFigure["budget"] }) {
  const [most] = rows;
  if (!most) return null;
  return (
    <section aria-label="What makes it uncertain">
      <h2>What makes the arm uncertain</h2>
      <p>
        Most: <strong>{most.input}</strong>, {(most.arm * 100).toFixed(0)} % of it. Known exactly,
        the arm would be known to ± {most.without_mm.toFixed(1)} mm.
      </p>
      <table className="asked budget">
        <thead>
          <tr>
            <th scope="col">Input</th>
            <th scope="col" className="num">
              of the arm
            </th>
            <th scope="col" className="num">
              of the mass
            </th>
          </tr>
        </thead>
        <tbody>
          {rows.slice(0, 5).map((r) => (
            <tr key={r.input}>
              <td>{capital(r.input)}</td>
              <td className="num">
                {(r.arm * 100).toFixed(0)} %, ± {r.U_mm.toFixed(1)} mm
              </td>
              <td className="num">
                {(r.mass * 100).toFixed(0)} %, ± {r.U_kg.toFixed(2)} kg
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
