/** What-ifs that were kept: two side by side, each solved. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useOutletContext } from "react-router";
import Button from "react-bootstrap/Button";

import { api, got, type Linkage, type Sheet, type Solved, type Variant } from "../../app/api";
import type { FrameContext } from "../../app/Frame";
import { useWrite } from "../../app/useWrite";
import { Said } from "../../marks/Said";
import { VerdictMark } from "../../marks/VerdictMark";
import { plain, positionWord, shown } from "../../marks/words";
import { KeepBar } from "./GeometryPart";
import type { Trial } from "./useLinkageTrial";

type Props = { linkage: Linkage; kept: Linkage; solved: Solved; sheet: Sheet; trial: Trial };

export function VariantsPart(p: Props) {
  const [one, setOne] = useState("");
  const [two, setTwo] = useState("");
  const { aircraft } = useOutletContext<FrameContext>();
  const { write, error } = useWrite();
  const names = [
    { id: "", name: "as it is built" },
    ...p.kept.variants.map((v) => ({ ...v, id: String(v.id) })),
  ];
  const pick = (id: string) => p.kept.variants.find((v) => String(v.id) === id);
  const second = two || (p.kept.variants[0] ? String(p.kept.variants[0].id) : "");
  return (
    <>
      <KeepBar {...p} />
      {p.kept.variants.length === 0 && (
        <p>No variant is kept yet. Change something under Geometry, then keep it as a variant.</p>
      )}
      {p.kept.variants.length > 0 && (
        <>
          <div className="two variants">
            {[[one, setOne, "First"] as const, [second, setTwo, "Second"] as const].map(
              ([id, set, word]) => (
                <div key={word}>
                  <label>
                    {word}
                    <select
                      className="form-select"
                      value={id}
                      onChange={(e) => set(e.target.value)}
                    >
                      {names.map((n) => (
                        <option key={n.id} value={n.id}>
                          {n.name}
                        </option>
                      ))}
                    </select>
                  </label>
                  <Side slug={aircraft.slug} control={p.sheet.slug} variant={pick(id)} />
                </div>
              ),
            )}
          </div>
          <ul>
            {p.kept.variants.map((v) => (
              <li key={v.id} className="way">
                {v.name}{" "}
                <button
                  type="button"
                  className="plain"
                  onClick={() => void p.trial.attempt(v.document)}
                >
                  Try it on the figure
                </button>{" "}
                {aircraft.may.includes("measure") && (
                  <Button
                    variant="outline-secondary"
                    size="sm"
                    onClick={() =>
                      void write(
                        `controls/${p.sheet.slug}/linkage/variants/${v.id}`,
                        {},
                        `Drop ${v.name}`,
                        "DELETE",
                      )
                    }
                  >
                    Drop
                  </Button>
                )}
              </li>
            ))}
          </ul>
          <Said error={error} />
        </>
      )}
    </>
  );
}

function Side(p: { slug: string; control: string; variant: Variant | undefined }) {
  const found = useQuery({
    queryKey: ["a", p.slug, "variant", p.control, p.variant?.id ?? 0, p.variant?.version ?? 0],
    queryFn: () =>
      got(
        api.POST("/api/aircraft/{slug}/controls/{control}/linkage/assess", {
          params: { path: { slug: p.slug, control: p.control } },
          body: {
            document: (p.variant?.document ?? null) as Record<string, never> | null,
            points: "",
            lengths_mm: {},
            stops: {},
          },
        }),
      ),
  });
  if (!found.data) return <Said error={found.error} />;
  const s = found.data.solved;
  return (
    <table className="asked" tabIndex={0}>
      <tbody>
        {s.travel.map((t) => (
          <tr key={`${t.output}/${t.position}`}>
            <th scope="row">
              {t.surface_name}, {positionWord(t.position)}
            </th>
            <td className="num">{shown(t.value, t.unit, 2)}</td>
            <td>{(t.lo !== null || t.hi !== null) && <VerdictMark verdict={t.verdict} />}</td>
            <td>{plain(t.stop)}</td>
          </tr>
        ))}
        {s.rods.map((r) => (
          <tr key={r.id}>
            <th scope="row">Rod {plain(r.id)}</th>
            <td className="num">{shown(r.length_mm, " mm", 1)}</td>
            <td />
            <td>least {shown(r.least_transmission_deg, "°", 0)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
