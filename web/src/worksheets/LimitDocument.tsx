/** The document in which the limits of a form stand, and the reason where they are changed. */
import { Link, useOutletContext } from "react-router";

import type { FrameContext } from "../app/Frame";
import { useSources } from "../app/queries";
import { Choice, TextField } from "../kit/fields";

export type Cited = { source: string; page: string; reason: string };

export function LimitDocument(p: {
  /** What is a limit here, by label; nothing is asked where there is none. */
  limits: string[];
  /** Whether any of them is said: then its document is needed. */
  said: boolean;
  /** Whether a kept limit, or its document, becomes another: then why. */
  changed: boolean;
  is: Cited;
  set: (is: Cited) => void;
}) {
  const { aircraft } = useOutletContext<FrameContext>();
  const sources = useSources(aircraft.slug);
  return (
    <>
      {p.limits.length > 0 && (
        <fieldset className="form-name">
          <legend>Document of {p.limits.map((l) => l.toLowerCase()).join(", ")}</legend>
          <div className="inline-form">
            <Choice
              label={p.said ? "From *" : "From"}
              value={p.is.source}
              set={(source) => p.set({ ...p.is, source })}
              options={[
                { value: "", word: "no document" },
                ...(sources.data?.results ?? []).map((s) => ({
                  value: String(s.id),
                  word: s.cited,
                })),
              ]}
            />
            <TextField label="Page" value={p.is.page} set={(page) => p.set({ ...p.is, page })} />
            {sources.data?.count === 0 && (
              <Link to={`/a/${aircraft.slug}/sources`}>Enter the document first</Link>
            )}
          </div>
        </fieldset>
      )}
      {p.changed && (
        <TextField
          sentence
          label="Why the limit or its document is changed"
          value={p.is.reason}
          set={(reason) => p.set({ ...p.is, reason })}
        />
      )}
    </>
  );
}
