/** A requirement that a document asks, of any kind; and a new document. */
import { useState } from "react";
import { useOutletContext } from "react-router";

import type { Sheet } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { useSources } from "../app/queries";
import { useWrite } from "../app/useWrite";
import { positionWord } from "../marks/words";
import { NewDocument } from "../sources/NewDocument";
import { Choice, TextField } from "../kit/fields";
import { Entry } from "../kit/Entry";
import { EMPTY, type Kind, LimitFields, sent } from "./Limits";
import { unless } from "../kit/unless";

const KINDS: { value: Kind; word: string }[] = [
  { value: "travel", word: "travel to a position" },
  { value: "neutral", word: "alignment at neutral" },
  { value: "symmetry", word: "left against right" },
  { value: "ratio", word: "up over down (differential)" },
  { value: "repeatability", word: "neutral from above and below (play)" },
];

export function NewRequirement({ slug, sheet }: { slug: string; sheet: Sheet }) {
  const { aircraft } = useOutletContext<FrameContext>();
  const sources = useSources(slug);
  const { write, error, busy } = useWrite();
  const kinds = KINDS.filter((k) => sheet.kinds.includes(k.value));
  const travels = sheet.positions.filter((x) => x !== "neutral");
  const [kind, setKind] = useState<Kind>(kinds[0]?.value ?? "travel");
  const [surface, setSurface] = useState(sheet.surfaces[0]?.slug ?? "");
  const [position, setPosition] = useState(travels[0] ?? "");
  const [v, setV] = useState(EMPTY);
  const [page, setPage] = useState("");
  const [chosen, setChosen] = useState<string | null>(null);
  if (!aircraft.may.includes("change facts"))
    return <p>Only the owner changes what is required.</p>;
  const source = chosen ?? String(sources.data?.results[0]?.id ?? 0);
  const placed = kind === "travel" || kind === "symmetry";
  const add = async () => {
    const body = {
      kind,
      surface: kind === "symmetry" ? "" : surface,
      position: placed ? position : "",
      ...sent(v, kind),
      source: Number(source),
      page,
    };
    if (await write(`controls/${sheet.slug}/requirements`, body, "requirement"))
      setV(unless(v, EMPTY));
  };
  const none = sources.data?.count === 0;
  return (
    <>
      {none && (
        <p>Every limit has its document. Enter the drawing or manual below, then what it asks.</p>
      )}
      {!none && (
        <Entry label="New requirement" save={add} button="Add requirement" off={busy} error={error}>
          <Choice
            label="What is asked"
            value={kind}
            set={(k) => setKind(k as Kind)}
            options={kinds}
          />
          {kind !== "symmetry" && (
            <Choice
              label="Surface"
              value={surface}
              set={setSurface}
              options={sheet.surfaces.map((s) => ({ value: s.slug, word: s.name }))}
            />
          )}
          {placed && (
            <Choice
              label="Position"
              value={position}
              set={setPosition}
              options={travels.map((s) => ({ value: s, word: positionWord(s) }))}
            />
          )}
          <LimitFields kind={kind} values={v} set={setV} />
          <Choice
            label="Source"
            value={source}
            set={setChosen}
            options={
              sources.data?.results.map((s) => ({ value: String(s.id), word: s.cited })) ?? []
            }
          />
          <TextField label="Page or sheet" value={page} set={setPage} />
        </Entry>
      )}
      <NewDocument />
    </>
  );
}
