/** Points, stops and rod lengths as a table: typed, pasted, or dragged on the figure; a trial
    until it is kept. */
import { useState } from "react";
import { useOutletContext } from "react-router";
import Button from "react-bootstrap/Button";

import type { Linkage, Sheet, Solved } from "../../app/api";
import type { FrameContext } from "../../app/Frame";
import { useWrite } from "../../app/useWrite";
import { Said } from "../../marks/Said";
import { TextField, Tick } from "../../kit/fields";
import { plain, plural } from "../../marks/words";
import { AddForms } from "./AddForms";
import { dropRod, goesWith } from "./dropping";
import { UseForms } from "./UseForms";
import { type File, fileOf, type Trial } from "./useLinkageTrial";
import { PasteRows } from "../../kit/PasteRows";
import { Cell } from "../../kit/Cell";
import { unless } from "../../kit/unless";

type Props = { linkage: Linkage; kept: Linkage; solved: Solved; sheet: Sheet; trial: Trial };

export function GeometryPart(p: Props) {
  const { trial } = p;
  const file = fileOf(p.linkage);
  const rows = file.bodies.flatMap((b) => [
    ...(b.pivot ? [{ body: b.id, point: "pivot", at: b.pivot }] : []),
    ...Object.entries(b.points ?? {}).map(([point, at]) => ({ body: b.id, point, at })),
  ]);
  return (
    <>
      <KeepBar {...p} />
      <Tick
        label="Drag points on the figure instead of moving the control"
        value={trial.dragging}
        set={trial.setDragging}
      />
      <table className="asked points" tabIndex={0}>
        <caption>Aircraft axes in the reference position, mm; stops in ° (mm for slides)</caption>
        <thead>
          <tr>
            <th scope="col">Body</th>
            <th scope="col">Point</th>
            <th scope="col" className="num">
              Station
            </th>
            <th scope="col" className="num">
              Butt line
            </th>
            <th scope="col" className="num">
              Water line
            </th>
          </tr>
        </thead>
        <tbody>
          {rows.map((r) => (
            <tr key={`${r.body}/${r.point}`}>
              <td>{plain(r.body)}</td>
              <td>{plain(r.point)}</td>
              {r.at.map((v, i) => (
                <td key={i} className="num">
                  <Cell
                    label={`${plain(r.body)} ${plain(r.point)}, ${["station", "butt line", "water line"][i]}`}
                    value={v * 1e3}
                    set={(mm) =>
                      void trial.change((f) => {
                        moved(f, r.body, r.point, i, mm / 1e3);
                      })
                    }
                  />
                </td>
              ))}
            </tr>
          ))}
          {file.rods.map((r) => (
            <tr key={`rod ${r.id}`}>
              <td>rod {plain(r.id)}</td>
              <td>length</td>
              <td className="num">
                <Cell
                  label={`Rod ${plain(r.id)}, length`}
                  value={p.solved.rods.find((x) => x.id === r.id)?.length_mm ?? 0}
                  set={(mm) =>
                    void trial.change((f) => {
                      const rod = f.rods.find((x) => x.id === r.id);
                      if (rod) rod.length_m = mm / 1e3;
                    })
                  }
                />
              </td>
              <td className="quiet" colSpan={2}>
                {r.length_m === undefined ? "as the points lie" : "set"}
                <Drop
                  label={withIt(file, r.id)}
                  drop={() =>
                    void trial.change((f) => {
                      dropRod(f, r.id);
                    })
                  }
                />
              </td>
            </tr>
          ))}
          {file.stops.map((s) => {
            const per = slides(file, s.body) ? 1e3 : 180 / Math.PI;
            return (
              <tr key={`stop ${s.id}`}>
                <td>stop {plain(s.id)}</td>
                <td>
                  {s.side} of {plain(s.body)}
                </td>
                <td className="num">
                  <Cell
                    label={`Stop ${plain(s.id)}`}
                    value={s.at * per}
                    set={(v) =>
                      void trial.change((f) => {
                        const stop = f.stops.find((x) => x.id === s.id);
                        if (stop) stop.at = v / per;
                      })
                    }
                  />
                </td>
                <td className="quiet" colSpan={2}>
                  {s.kind}
                  {s.named_first ? ", the maker names it first" : ""}
                  <Drop
                    label={`stop ${plain(s.id)}`}
                    drop={() =>
                      void trial.change((f) => {
                        f.stops = f.stops.filter((x) => x.id !== s.id);
                      })
                    }
                  />
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      <AddForms file={file} trial={trial} />
      <UseForms file={file} sheet={p.sheet} trial={trial} />
      <PasteRows
        label="Paste rows: body, point (or pivot), station, butt line, water line"
        button="Put them in"
        take={(rows) => trial.attempt(trial.current(), rows)}
      />
    </>
  );
}

/** A rod and what goes with it, in words. */
function withIt(f: File, rod: string): string {
  const { bodies, stops, outputs } = goesWith(f, rod);
  const counted = [
    bodies.map(plain).join(", "),
    stops.length > 0 && plural(stops.length, "stop"),
    outputs.length > 0 && plural(outputs.length, "output"),
  ];
  const all = counted.filter(Boolean).join(", ");
  return all ? `rod ${plain(rod)} with ${all}` : `rod ${plain(rod)}`;
}

function Drop({ label, drop }: { label: string; drop: () => void }) {
  return (
    <button
      type="button"
      className="plain drop"
      aria-label={`Take out ${label}`}
      title={`Take out ${label}`}
      onClick={drop}
    >
      take out
    </button>
  );
}

const slides = (f: File, body: string): boolean =>
  f.bodies.find((b) => b.id === body)?.kind === "slide";

function moved(f: File, body: string, point: string, axis: number, to: number) {
  const b = f.bodies.find((x) => x.id === body);
  const at = point === "pivot" ? b?.pivot : b?.points?.[point];
  if (at) at[axis] = Math.round(to * 1e7) / 1e7;
}

/** What to do with a trial: keep it as it is built, keep it as a variant, or leave it. */
export function KeepBar(p: Props) {
  const { aircraft } = useOutletContext<FrameContext>();
  const { write, error, busy, pending } = useWrite();
  const [name, setName] = useState("");
  const { trial } = p;
  if (!trial.tried)
    return (
      <p className="quiet">
        Change a number, paste rows or drag a point: travel, stops and curves answer at once.
      </p>
    );
  const document = trial.tried.document;
  const keep = async () => {
    const path = `controls/${p.sheet.slug}/linkage` as const;
    const body = { version: trial.version, document };
    if (await write(path, body, `Linkage of ${p.sheet.name}`, "PUT")) trial.leave();
  };
  const vary = async () => {
    const path = `controls/${p.sheet.slug}/linkage/variants` as const;
    if (await write(path, { name, document }, `Variant ${name}`)) setName(unless(name, ""));
  };
  return (
    <div className="inline-form keep-bar">
      {aircraft.may.includes("change facts") && (
        <Button disabled={busy || pending || trial.busy} onClick={() => void keep()}>
          Keep as the linkage
        </Button>
      )}
      {aircraft.may.includes("measure") && (
        <>
          <TextField label="Name of the variant" value={name} set={setName} />
          <Button
            variant="outline-primary"
            disabled={busy || pending || trial.busy || !name.trim()}
            onClick={() => void vary()}
          >
            Keep as a variant
          </Button>
        </>
      )}
      <Button variant="outline-secondary" onClick={trial.leave}>
        Leave the trial
      </Button>
      <Said error={error} />
    </div>
  );
}
