/** Each rod: length, threads engaged at both ends, what is left to turn; its record as typed. */
import { useState } from "react";
import { Link, useOutletContext } from "react-router";

import type { Linkage, RodState, Sheet, Solved } from "../../app/api";
import type { FrameContext } from "../../app/Frame";
import { useWrite } from "../../app/useWrite";
import { Caution } from "../../marks/Said";
import { Choice, TextField } from "../../kit/fields";
import { VerdictMark } from "../../marks/VerdictMark";
import { Why } from "../../marks/Why";
import { plain, shown } from "../../marks/words";
import { fileOf } from "./useLinkageTrial";
import { Entry } from "../../kit/Entry";

const FIELDS: [string, string, string][] = [
  ["pitch_a", "Pitch, end a", "0.907 mm"],
  ["pitch_b", "Pitch, end b", "0.907 mm"],
  ["thread_dia", "Thread diameter", "6.35 mm"],
  ["engaged_a", "Thread engaged, end a", "14 mm"],
  ["engaged_b", "Thread engaged, end b", "14 mm"],
  ["min_engaged", "Maker's least engagement", "1.5 diameters"],
  ["max_engaged", "Bottoms at", "22 mm"],
  ["hole_depth", "Inspection hole, depth", "10 mm"],
  ["hole_dia", "Inspection hole, diameter", "1.6 mm"],
  ["u", "Sure to ±", "0.3 mm"],
  ["built", "Length between centres", "as measured"],
  ["jam_torque", "Jam nuts, torque", "the maker's range"],
  ["clocking", "Ends clocked apart by", "0°, locked"],
  ["od", "Tube outside diameter", "19.05 mm"],
  ["wall", "Tube wall", "0.889 mm"],
  ["E", "Modulus", "from the data, GPa"],
  ["Fcy", "Compressive yield", "from the data, MPa"],
];

type Props = {
  kept: Linkage;
  solved: Solved;
  sheet: Sheet;
  rod: string | null;
  chooseRod: (rod: string) => void;
};

export function RodsPart(p: Props) {
  const state = p.kept.rods.find((r) => r.id === p.rod) ?? worst(p.kept.rods);
  return (
    <>
      <table className="asked rods" tabIndex={0}>
        <thead>
          <tr>
            <th scope="col">Rod</th>
            <th scope="col" className="num">
              Length
            </th>
            <th scope="col" className="num">
              Turned
            </th>
            <th scope="col" className="num">
              Left to turn
            </th>
            <th scope="col">End a</th>
            <th scope="col">End b</th>
            <th scope="col" className="num">
              Least transmission
            </th>
          </tr>
        </thead>
        <tbody>
          {p.kept.rods.map((r) => {
            const s = p.solved.rods.find((x) => x.id === r.id);
            return (
              <tr
                key={r.id}
                className={r.id === state?.id ? "chosen" : ""}
                onClick={() => p.chooseRod(r.id)}
              >
                <td>
                  <button type="button" className="plain" aria-pressed={r.id === state?.id}>
                    {plain(r.id)}
                  </button>
                </td>
                <td className="num">{shown(s?.length_mm, " mm")}</td>
                <td className="num">{r.half_turns ? `${signed(r.half_turns)} half` : "–"}</td>
                <td className="num">
                  {r.least === null ? "–" : `${signed(r.least)} to ${signed(r.most ?? 0)} half`}
                </td>
                {r.ends.map((e) => (
                  <td key={e.end}>
                    <VerdictMark verdict={e.verdict} />{" "}
                    <span className="num">{shown(e.engaged_mm, " mm")}</span>
                  </td>
                ))}
                <td className="num">{shown(s?.least_transmission_deg, "°", 0)}</td>
              </tr>
            );
          })}
        </tbody>
      </table>
      {state && (
        <OneRod key={state.id + p.kept.version} state={state} kept={p.kept} sheet={p.sheet} />
      )}
      <Caution>
        A rod end that is not in far enough can pull out in flight. A wire must not pass the
        inspection hole. Check both ends after every turn of the tube; jam nuts tight and marked.
      </Caution>
    </>
  );
}

const signed = (n: number): string => (n > 0 ? `+${n}` : String(n).replace("-", "−"));

const worst = (rods: RodState[]): RodState | undefined =>
  rods.find((r) => r.ends.some((e) => e.verdict === "out")) ?? rods[0];

function OneRod({ state, kept, sheet }: { state: RodState; kept: Linkage; sheet: Sheet }) {
  const { aircraft } = useOutletContext<FrameContext>();
  const [record, setRecord] = useState<Record<string, string>>(state.record);
  const { write, error, busy, pending } = useWrite();
  const can = aircraft.may.includes("change facts");
  const set = (key: string, v: string) => setRecord((r) => ({ ...r, [key]: v }));
  const save = async () => {
    const file = structuredClone(fileOf(kept));
    const rod = file.rods.find((r) => r.id === state.id);
    if (!rod) return;
    rod.record = Object.fromEntries(Object.entries(record).filter(([, v]) => v.trim()));
    const path = `controls/${sheet.slug}/linkage` as const;
    await write(path, { version: kept.version, document: file }, `Rod ${plain(state.id)}`, "PUT");
  };
  return (
    <div className="one-rod">
      <h2>Rod {plain(state.id)}</h2>
      {state.ends.map((e) => (
        <p key={e.end} className="way">
          <VerdictMark verdict={e.verdict} word /> End {e.end} at {plain(e.at)}:{" "}
          {e.engaged_mm === null
            ? "not measured"
            : `${shown(e.engaged_mm, " mm")} engaged, ${shown(e.threads, " threads", 0)}`}
          . {e.said} <Why why={e.why} />
          {e.bay && (
            <>
              {" "}
              <Link to={`/a/${aircraft.slug}/bays/${e.bay}`}>{plain(e.bay)}</Link>
            </>
          )}
        </p>
      ))}
      {state.record.jam_torque ? (
        <p className="way">
          Jam nuts: {state.record.jam_torque}, with a witness mark;{" "}
          <Link to={`/a/${aircraft.slug}/joints`}>kept as joints</Link>. Turning the rod loosens
          them.
        </p>
      ) : (
        <p className="quiet">
          With the jam nuts' torque in the record, each becomes a joint to be torqued and marked.
        </p>
      )}
      {can && (
        <Entry save={save} button="Keep this record" off={busy || pending} error={error}>
          <Choice
            label="Turned at"
            value={record.turned ?? ""}
            set={(v) => set("turned", v)}
            options={[
              { value: "", word: "not turned" },
              { value: "tube", word: "the tube, ends held" },
              { value: "end_a", word: "end a" },
              { value: "end_b", word: "end b" },
            ]}
          />
          <Choice
            label="Threads"
            value={record.hands ?? ""}
            set={(v) => set("hands", v)}
            options={[
              { value: "", word: "–" },
              { value: "opposite", word: "opposite hands" },
              { value: "same", word: "same hand" },
            ]}
          />
          {FIELDS.map(([key, label, hint]) => (
            <TextField
              key={key}
              label={label}
              hint={hint}
              value={record[key] ?? ""}
              set={(v) => set(key, v)}
            />
          ))}
        </Entry>
      )}
    </div>
  );
}
