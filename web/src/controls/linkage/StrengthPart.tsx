/** Rod strength, free play, hinge line and mass balance: each with its caution. */
import { useState } from "react";
import { useOutletContext } from "react-router";
import Button from "react-bootstrap/Button";

import { api, got, type Linkage, type PartCheck, type Play, type Sheet } from "../../app/api";
import type { FrameContext } from "../../app/Frame";
import { usePartChecks } from "../../app/queries";
import { useWrite } from "../../app/useWrite";
import { Caution, Said } from "../../marks/Said";
import { Choice, type Option, TextField } from "../../kit/fields";
import { VerdictMark } from "../../marks/VerdictMark";
import { Why } from "../../marks/Why";
import { plain, shown } from "../../marks/words";
import { Entry } from "../../kit/Entry";
import { unless } from "../../kit/unless";

type Kind = {
  kind: PartCheck["kind"];
  title: string;
  of: "rod" | "surface";
  fields: [string, string, string][];
  caution: string;
};

const FLUTTER =
  "Flutter: balance and hinge limits come from the maker only; a repaint or repair changes them. In here is no statement about flutter speed.";

const KINDS: Kind[] = [
  {
    kind: "rod_strength",
    title: "Rod strength",
    of: "rod",
    fields: [
      ["pilot_force", "Pilot's limit force at the grip", "from the certification basis, N"],
      ["special_factor", "Special factor", "1"],
    ],
    caution:
      "A rod that buckles disconnects the surface; this does not replace the maker's stress data. Bent or dented rods, rod ends and bolts are not covered.",
  },
  {
    kind: "mass_balance",
    title: "Mass balance",
    of: "surface",
    fields: [
      ["scale", "Scale under the trailing edge", "0.742 kg"],
      ["tare", "Tare", "0.18 kg"],
      ["arm", "Scale behind the hinge", "281 mm"],
      ["surface_mass", "Mass of the surface", "4.35 kg"],
      ["weight_arm", "Weight ahead of the hinge", "165 mm"],
      ["aim", "Hinge moment to reach", "Nm"],
      ["lo", "Maker's low limit", "Nm"],
      ["hi", "Maker's high limit", "Nm"],
      ["scale_accuracy", "Scale good to ±", "5 g"],
      ["arm_accuracy", "Arm good to ±", "1 mm"],
    ],
    caution: FLUTTER,
  },
  {
    kind: "hinge_fraction",
    title: "Hinge position on the chord",
    of: "surface",
    fields: [
      ["stations", "Nose to hinge / chord, by station", "71/352; 64/318; 55/284"],
      ["lo", "Least fraction", "maker's"],
      ["hi", "Greatest fraction", "maker's"],
      ["accuracy", "Lengths good to ±", "0.5 mm"],
    ],
    caution: FLUTTER,
  },
  {
    kind: "hinge_straightness",
    title: "Hinges in one line",
    of: "surface",
    fields: [
      ["points", "Hinge points, mm", "5800 -1210 780; 5800 0 780; 5800 1205 780"],
      ["limit", "Greatest distance off the line", "from the bearings' play"],
    ],
    caution: FLUTTER,
  },
];

export function StrengthPart({ linkage, sheet }: { linkage: Linkage; sheet: Sheet }) {
  const { aircraft } = useOutletContext<FrameContext>();
  const checks = usePartChecks(aircraft.slug, sheet.slug);
  const can = aircraft.may.includes("measure");
  return (
    <>
      <Said error={checks.error} />
      {(checks.data?.results ?? []).map((c) => (
        <p key={c.id} className="way">
          <VerdictMark verdict={c.verdict} word />{" "}
          <strong>
            {KINDS.find((k) => k.kind === c.kind)?.title ?? plain(c.kind)}, {plain(c.subject)}
          </strong>
          : {c.said} <Why why={c.why} />
        </p>
      ))}
      {checks.data?.count === 0 && <p>Nothing is checked yet.</p>}
      {can && (
        <>
          {KINDS.map((k) => (
            <details key={k.kind}>
              <summary>{k.title}</summary>
              <CheckForm
                kind={k}
                linkage={linkage}
                sheet={sheet}
                kept={checks.data?.results ?? []}
              />
              <Caution>{k.caution}</Caution>
            </details>
          ))}
        </>
      )}
      <details open>
        <summary>Free play</summary>
        <PlayForm linkage={linkage} sheet={sheet} />
      </details>
    </>
  );
}

function CheckForm(p: { kind: Kind; linkage: Linkage; sheet: Sheet; kept: PartCheck[] }) {
  const subjects: Option[] =
    p.kind.of === "rod"
      ? p.linkage.rods.map((r) => ({ value: r.id, word: plain(r.id) }))
      : p.sheet.surfaces.map((s) => ({ value: s.slug, word: s.name }));
  const [subject, setSubject] = useState(subjects[0]?.value ?? "");
  const before = p.kept.find((c) => c.kind === p.kind.kind && c.subject === subject);
  const [typed, setTyped] = useState<Record<string, string>>({});
  const { write, error, busy, pending } = useWrite();
  const now = (key: string) => typed[key] ?? (before?.typed as Record<string, string>)?.[key] ?? "";
  const save = async () => {
    const all = Object.fromEntries(p.kind.fields.map(([key]) => [key, now(key)]));
    const body = { kind: p.kind.kind, subject, typed: all };
    if (await write(`controls/${p.sheet.slug}/part-checks`, body, p.kind.title))
      setTyped(unless(typed, {}));
  };
  return (
    <Entry save={save} button="Work it out and keep it" off={busy || pending} error={error}>
      <Choice
        label={p.kind.of === "rod" ? "Rod" : "Surface"}
        value={subject}
        set={(v) => {
          setSubject(v);
          setTyped({});
        }}
        options={subjects}
      />
      {p.kind.fields.map(([key, label, hint]) => (
        <TextField
          key={key}
          label={label}
          hint={hint}
          value={now(key)}
          set={(v) => setTyped((t) => ({ ...t, [key]: v }))}
        />
      ))}
    </Entry>
  );
}

function PlayForm({ linkage, sheet }: { linkage: Linkage; sheet: Sheet }) {
  const { aircraft } = useOutletContext<FrameContext>();
  const outs = (linkage.solved?.outputs ?? []).filter((o) => o.surface);
  const [output, setOutput] = useState(outs[0]?.name ?? "");
  const [clearances, setClearances] = useState<Record<string, string>>({});
  const [limit, setLimit] = useState("");
  const [found, setFound] = useState<Play | null>(null);
  const [error, setError] = useState<unknown>(null);
  const ask = async () => {
    try {
      const answer = await got(
        api.POST("/api/aircraft/{slug}/controls/{control}/linkage/play", {
          params: { path: { slug: aircraft.slug, control: sheet.slug } },
          body: { output, clearances, limit },
        }),
      );
      setFound(answer);
      setError(null);
    } catch (e) {
      setError(e);
    }
  };
  if (!outs.length) return <p>No output here is a surface.</p>;
  return (
    <Entry save={ask}>
      <Choice
        label="Surface"
        value={output}
        set={setOutput}
        options={outs.map((o) => ({ value: o.name, word: o.surface_name }))}
      />
      {linkage.rods.map((r) => (
        <TextField
          key={r.id}
          label={`Play in ${plain(r.id)}, both ends`}
          hint="0.05 mm"
          value={clearances[r.id] ?? ""}
          set={(v) => setClearances((c) => ({ ...c, [r.id]: v }))}
        />
      ))}
      <TextField label="Maker's limit" hint="°" value={limit} set={setLimit} />
      <Button type="submit">Work it out</Button>
      <Said error={error} />
      {found && (
        <div className="play-found">
          <VerdictMark verdict={found.verdict} word />{" "}
          <strong>{shown(found.worst_deg, "°", 2)}</strong> at worst (
          {shown(found.likely_deg, "°", 2)} likely), {shown(found.trailing_edge_mm, " mm")} at the
          trailing edge. {found.said} <Why why={found.why} />
          <ul>
            {found.rows.map((r) => (
              <li key={r.rod} className="way">
                {plain(r.rod)}: {shown(r.clearance_mm, " mm", 2)} gives {shown(r.share_deg, "°", 2)}
              </li>
            ))}
          </ul>
          <p className="quiet">
            With a servo, measure play and travel twice: connected, and disconnected.
          </p>
        </div>
      )}
    </Entry>
  );
}
