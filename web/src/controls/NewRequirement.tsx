/** A requirement that a document asks, and a new document. */
import { useState } from "react";
import { useOutletContext } from "react-router";

import { api, got, type Sheet } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { useRefresh, useSources } from "../app/queries";
import { Said } from "../marks/Said";
import { positionWord } from "../marks/words";
import { NewDocument } from "../sources/NewDocument";
import { TextField } from "../marks/fields";
import { Entry } from "../kit/Entry";

export function NewRequirement({ slug, sheet }: { slug: string; sheet: Sheet }) {
  const { aircraft } = useOutletContext<FrameContext>();
  const sources = useSources(slug);
  const refresh = useRefresh(slug);
  const [surface, setSurface] = useState(sheet.surfaces[0]?.slug ?? "");
  const [position, setPosition] = useState(sheet.positions[0] ?? "");
  const [v, setV] = useState({ nominal: "", plus: "", minus: "", page: "" });
  const [source, setSource] = useState<number | null>(null);
  const [error, setError] = useState<unknown>(null);
  if (!aircraft.may.includes("change facts"))
    return <p>Only the owner changes what is required.</p>;
  const attempt = async (write: () => Promise<unknown>) => {
    try {
      await write();
      setError(null);
    } catch (e) {
      setError(e);
    }
    await refresh();
  };
  const path = { slug, control: sheet.slug };
  const add = () =>
    attempt(async () => {
      await got(
        api.POST("/api/aircraft/{slug}/controls/{control}/requirements", {
          params: { path },
          body: {
            surface,
            position,
            kind: position === "neutral" ? "neutral" : "travel",
            ...v,
            source: source ?? sources.data?.results[0]?.id ?? 0,
          },
        }),
      );
      setV({ nominal: "", plus: "", minus: "", page: "" });
    });
  return (
    <>
      <Entry label="New requirement" save={add} button="Add requirement">
        <label>
          Surface
          <select
            className="form-select"
            value={surface}
            onChange={(e) => setSurface(e.target.value)}
          >
            {sheet.surfaces.map((s) => (
              <option key={s.slug} value={s.slug}>
                {s.name}
              </option>
            ))}
          </select>
        </label>
        <label>
          Position
          <select
            className="form-select"
            value={position}
            onChange={(e) => setPosition(e.target.value)}
          >
            {sheet.positions.map((s) => (
              <option key={s} value={s}>
                {positionWord(s)}
              </option>
            ))}
          </select>
        </label>
        <TextField
          label="Asked, °"
          value={v.nominal}
          hint="26"
          set={(nominal) => setV({ ...v, nominal })}
        />
        <TextField label="Plus, °" value={v.plus} hint="2" set={(plus) => setV({ ...v, plus })} />
        <TextField
          label="Minus, °"
          value={v.minus}
          hint="1"
          set={(minus) => setV({ ...v, minus })}
        />
        <label>
          Source
          <select
            className="form-select"
            value={source ?? sources.data?.results[0]?.id ?? ""}
            onChange={(e) => setSource(Number(e.target.value))}
          >
            {sources.data?.results.map((s) => (
              <option key={s.id} value={s.id}>
                {s.cited}
              </option>
            ))}
          </select>
        </label>
        <TextField label="Page or sheet" value={v.page} set={(page) => setV({ ...v, page })} />
      </Entry>
      <NewDocument />
      <Said error={error} />
    </>
  );
}
