/** A requirement that a document asks, and a new document. */
import { useState } from "react";
import { useOutletContext } from "react-router";

import type { Sheet } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { useSources } from "../app/queries";
import { useWrite } from "../app/useWrite";
import { positionWord } from "../marks/words";
import { NewDocument } from "../sources/NewDocument";
import { Choice, Fields, TextField } from "../kit/fields";
import { Entry } from "../kit/Entry";

const EMPTY = { nominal: "", plus: "", minus: "", page: "" };
const ASKED = [
  ["nominal", "Asked, °", "26"],
  ["plus", "Plus, °", "2"],
  ["minus", "Minus, °", "1"],
] as const;

export function NewRequirement({ slug, sheet }: { slug: string; sheet: Sheet }) {
  const { aircraft } = useOutletContext<FrameContext>();
  const sources = useSources(slug);
  const { write, error, busy } = useWrite();
  const [surface, setSurface] = useState(sheet.surfaces[0]?.slug ?? "");
  const [position, setPosition] = useState(sheet.positions[0] ?? "");
  const [v, setV] = useState(EMPTY);
  const [chosen, setChosen] = useState<string | null>(null);
  const source = chosen ?? String(sources.data?.results[0]?.id ?? 0);
  if (!aircraft.may.includes("change facts"))
    return <p>Only the owner changes what is required.</p>;
  const add = async () => {
    const kind = position === "neutral" ? "neutral" : "travel";
    const body = { surface, position, kind, ...v, source: Number(source) };
    if (await write(`controls/${sheet.slug}/requirements`, body, "requirement")) setV(EMPTY);
  };
  return (
    <>
      <Entry label="New requirement" save={add} button="Add requirement" off={busy} error={error}>
        <Choice
          label="Surface"
          value={surface}
          set={setSurface}
          options={sheet.surfaces.map((s) => ({ value: s.slug, word: s.name }))}
        />
        <Choice
          label="Position"
          value={position}
          set={setPosition}
          options={sheet.positions.map((s) => ({ value: s, word: positionWord(s) }))}
        />
        <Fields of={ASKED} values={v} set={(x) => setV({ ...v, ...x })} />
        <Choice
          label="Source"
          value={source}
          set={setChosen}
          options={sources.data?.results.map((s) => ({ value: String(s.id), word: s.cited })) ?? []}
        />
        <TextField label="Page or sheet" value={v.page} set={(page) => setV({ ...v, page })} />
      </Entry>
      <NewDocument />
    </>
  );
}
