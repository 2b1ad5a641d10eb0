/** The calibration card of a tension gauge, typed once from its paper. */
import { useState } from "react";
import { useOutletContext } from "react-router";

import type { Instrument } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { useCards } from "../app/queries";
import { useWrite } from "../app/useWrite";
import { TextField, TextArea } from "../kit/fields";
import { Entry } from "../kit/Entry";
import { line, scale } from "../kit/plot";
import { LBF } from "./units";

const PATTERN = "riser; cable; reading; tension\n2; 1/8 in; 12; 10 lb\n2; 1/8 in; 19; 20 lb\n";

export function CardForm({ gauge }: { gauge: Instrument }) {
  const { aircraft } = useOutletContext<FrameContext>();
  const cards = useCards(aircraft.slug);
  const card = cards.data?.results.find((c) => c.instrument === gauge.id);
  const [typed, setTyped] = useState<string | null>(null);
  const [u, setU] = useState<string | null>(null);
  const { write, error, busy } = useWrite();
  if (!cards.data) return null;
  const text = typed ?? card?.typed ?? "";
  const keep = async () => {
    const body = { version: card?.version ?? 0, typed: text, u: u ?? card?.u_typed ?? "" };
    if (await write(`instruments/${gauge.id}/card`, body, `Card of ${gauge.name}`, "PUT")) {
      setTyped(null);
      setU(null);
    }
  };
  return (
    <details open={!card}>
      <summary>{card ? "Its calibration card" : "Enter its calibration card first"}</summary>
      {card && <CardFigure tables={card.tables as unknown as Table[]} />}
      <Entry
        save={keep}
        className="paste"
        button="Keep the card"
        variant="outline-primary"
        off={busy || !text.trim()}
        error={error}
      >
        <TextArea
          label="Rows of the card: riser; cable; reading; tension"
          value={text}
          set={setTyped}
          rows={7}
          hint={PATTERN}
        />
        <TextField
          label="The card is good to ± (k = 1)"
          value={u ?? card?.u_typed ?? ""}
          set={setU}
          hint="0.5 lb"
        />
      </Entry>
    </details>
  );
}

type Table = { riser: string; diameter_m: number; points: [number, number][] };

/** The card as lines, tension over reading: what lies between its points. */
function CardFigure({ tables }: { tables: Table[] }) {
  const all = tables.flatMap((t) => t.points);
  const [x1, y1] = [Math.max(...all.map((q) => q[0])), Math.max(...all.map((q) => q[1]))];
  const px = scale([0, x1], [34, 284]);
  const py = scale([0, y1], [116, 12]);
  return (
    <svg className="card-figure" viewBox="0 0 300 140" role="img" aria-label="The card as lines">
      <path className="curve-grid" d="M34 8V116H290" />
      {tables.map((t) => (
        <g key={`${t.riser} ${t.diameter_m}`}>
          <path className="curve-line" d={line(t.points, px, py)} />
          {t.points.map(([x, y]) => (
            <circle key={x} cx={px(x)} cy={py(y)} r="2.5" className="card-point" />
          ))}
          <text
            x={px(t.points.at(-1)?.[0] ?? 0) - 4}
            y={py(t.points.at(-1)?.[1] ?? 0) + 14}
            textAnchor="end"
          >
            riser {t.riser}, {(t.diameter_m * 1e3).toFixed(1)} mm
          </text>
        </g>
      ))}
      <text x="288" y="132" textAnchor="end" className="axis-name">
        reading, divisions to {x1}
      </text>
      <text x="38" y="16" className="axis-name">
        tension to {(y1 / LBF).toFixed(0)} lb
      </text>
    </svg>
  );
}
