/** A connector's face: every pin with its wire, as seen from the wires or from its mate. */
import { useState } from "react";

import type { HarnessRow } from "../app/api";
import { Choice } from "../kit/fields";

const STEP = 44;
const SIDES = [
  { value: "wires", word: "the side of the wires" },
  { value: "mate", word: "the side that mates" },
];

export function ConnectorFace({ row }: { row: HarnessRow }) {
  const [side, setSide] = useState("wires");
  const rows = laid(row);
  const widest = Math.max(...rows.map((r) => r.length), 1);
  return (
    <section aria-label="Pins">
      <div className="inline-form">
        <Choice label="Seen from" value={side} set={setSide} options={SIDES} />
      </div>
      <svg
        className="connector-face"
        viewBox={`0 0 ${widest * STEP + 12} ${rows.length * STEP + 12}`}
        style={{ maxWidth: `${widest * STEP + 12}px` }}
        role="img"
        aria-label={`Face of ${row.name}, seen from ${SIDES.find((s) => s.value === side)?.word}`}
      >
        <rect
          className="shell"
          x={2}
          y={2}
          width={widest * STEP + 8}
          height={rows.length * STEP + 8}
          rx={8}
        />
        {rows.map((pins, y) =>
          (side === "mate" ? pins : [...pins].reverse()).map((pin, n) => {
            const x = 6 + (n + 0.5 + (widest - pins.length) / 2) * STEP;
            const at = 6 + (y + 0.5) * STEP;
            return (
              <g key={pin.pin} className={`pin ${pin.state.replace(" ", "-")}`}>
                <circle cx={x} cy={at - 5} r={12} />
                <text x={x} y={at - 1} textAnchor="middle">
                  {pin.pin}
                </text>
                <text x={x} y={at + 18} textAnchor="middle" className="wire">
                  {pin.wire.length > 7 ? `${pin.wire.slice(0, 6)}…` : pin.wire}
                </text>
              </g>
            );
          }),
        )}
      </svg>
      <ul className="happened">
        {row.pins
          .filter((p) => p.wire)
          .map((p) => (
            <li key={p.pin}>
              Pin {p.pin}: {p.wire}, {p.state}
            </li>
          ))}
      </ul>
      <p className="quiet">
        A full ring: terminated; filled: done; dashed: planned or run; thin: spare. Check the
        numbers on the shell itself.
      </p>
    </section>
  );
}

/** The pins in the rows that were said, else ten in a row. */
function laid(row: HarnessRow): HarnessRow["pins"][] {
  const said = typeof row.typed.rows === "string" ? row.typed.rows : "";
  const counts = said
    .split(";")
    .map((n) => Number(n.trim()))
    .filter((n) => n > 0);
  const rest = [...row.pins];
  const found: HarnessRow["pins"][] = [];
  for (const n of counts) found.push(rest.splice(0, n));
  while (rest.length) found.push(rest.splice(0, 10));
  return found.filter((r) => r.length);
}
