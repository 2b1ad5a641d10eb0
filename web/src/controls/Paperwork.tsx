/** Below the figure: sense check and signatures, template, geometry, instruments, documents. */
import { useState } from "react";

import type { Sheet } from "../app/api";
import { SignPanel } from "../signoff/SignPanel";
import { GeometryForm } from "./GeometryForm";
import { InstrumentForm } from "./InstrumentForm";
import { NewRequirement } from "./NewRequirement";
import { PrimaryForm } from "./PrimaryForm";
import { TemplateForm } from "./TemplateForm";

const TABS = ["Sign", "Template", "Requirements", "Geometry", "Kind", "Instruments"] as const;

export function Paperwork({ slug, sheet }: { slug: string; sheet: Sheet }) {
  const [tab, setTab] = useState<(typeof TABS)[number]>("Sign");
  return (
    <section className="paperwork" aria-label="Paperwork">
      <div className="tabs" role="tablist">
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
      {tab === "Geometry" &&
        sheet.surfaces.map((s) => <GeometryForm key={`${s.slug}-${s.version}`} surface={s} />)}
      {tab === "Kind" && <PrimaryForm key={sheet.version} sheet={sheet} />}
      {tab === "Instruments" && <InstrumentForm slug={slug} />}
    </section>
  );
}
