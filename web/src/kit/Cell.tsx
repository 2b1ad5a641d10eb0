/** A number in a table: taken when it is left or Enter is pressed, left alone by Escape. */
import { useState } from "react";

import { number } from "./numbers";

export function Cell(p: {
  label: string;
  value: number;
  set: (v: number) => void;
  decimals?: number;
  className?: string;
}) {
  const is = String(Number(p.value.toFixed(p.decimals ?? 3)));
  const [typed, setTyped] = useState<string | null>(null);
  const take = () => {
    const v = number(typed ?? is);
    if (typed !== null && Number.isFinite(v) && v !== Number(is)) p.set(v);
    setTyped(null);
  };
  return (
    <input
      className={p.className ?? "number-cell"}
      aria-label={p.label}
      inputMode="decimal"
      value={typed ?? is}
      onChange={(e) => setTyped(e.target.value)}
      onBlur={take}
      onKeyDown={(e) => {
        if (e.key === "Enter") take();
        if (e.key === "Escape") setTyped(null);
      }}
    />
  );
}
