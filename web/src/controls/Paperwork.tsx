/** Below the figure: sense check and signatures, template, geometry, instruments, documents. */
import { useState } from "react";
import { useOutletContext } from "react-router";

import type { Sheet } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { SignPanel } from "../signoff/SignPanel";
import { ControlForm } from "./ControlForm";
import { GeometryForm, NewSurface } from "./GeometryForm";
import { InstrumentForm } from "./InstrumentForm";
import { NewRequirement } from "./NewRequirement";
import { TemplateForm } from "./TemplateForm";

const TABS = ["Sign", "Template", "Requirements", "Surfaces", "Control", "Instruments"] as const;

export function Paperwork({ slug, sheet }: { slug: string; sheet: Sheet }) {
  const { aircraft } = useOutletContext<FrameContext>();
  // With nothing asked yet, what the drawing asks comes first.
  const [tab, setTab] = useState<(typeof TABS)[number]>(
    sheet.requirements.length ? "Sign" : "Requirements",
  );
  return (
    <section className="paperwork" aria-label="Paperwork">
      <div className="tabs">
        <div className="tab-words" role="tablist" aria-label="Paperwork">
          {TABS.map((t) => (
            <button
              key={t}
              type="button"
              role="tab"
              aria-selected={t === tab}
              onClick={() => setTab(t)}
            >
              {t}
            </button>
          ))}
        </div>
        <a
          className="print"
          href={`/api/aircraft/${slug}/controls/${sheet.slug}/sheet.pdf`}
          target="_blank"
          rel="noreferrer"
        >
          Print the sheet (PDF)
        </a>
      </div>
      {tab === "Sign" && <SignPanel slug={slug} sheet={sheet} />}
      {tab === "Template" && <TemplateForm sheet={sheet} />}
      {tab === "Requirements" && <NewRequirement slug={slug} sheet={sheet} />}
      {tab === "Surfaces" && (
        <>
          {sheet.surfaces.map((s) => (
            <GeometryForm
              key={`${s.slug}-${s.version}`}
              surface={s}
              alone={sheet.surfaces.length === 1}
            />
          ))}
          {aircraft.may.includes("change facts") && <NewSurface sheet={sheet} />}
        </>
      )}
      {tab === "Control" && <ControlForm key={sheet.version} sheet={sheet} />}
      {tab === "Instruments" && <InstrumentForm slug={slug} />}
    </section>
  );
}
