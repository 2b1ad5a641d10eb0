/** A number in a table: taken when it is left or Enter is pressed, left alone by Escape. */
import { useId, useState } from "react";

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
  const [bad, setBad] = useState(false);
  const said = useId();
  const take = () => {
    const v = number(typed ?? is);
    // What is no number stays to be corrected; nothing typed means as it was.
    if (typed?.trim() && !Number.isFinite(v)) {
      setBad(true);
      return;
    }
    if (typed?.trim() && v !== Number(is)) p.set(v);
    setTyped(null);
    setBad(false);
  };
  return (
    <>
      <input
        className={p.className ?? "number-cell"}
        aria-label={p.label}
        aria-invalid={bad || undefined}
        aria-describedby={bad ? said : undefined}
        inputMode="decimal"
        value={typed ?? is}
        onChange={(e) => setTyped(e.target.value)}
        onBlur={take}
        onKeyDown={(e) => {
          if (e.key === "Enter") take();
          if (e.key !== "Escape") return;
          setTyped(null);
          setBad(false);
        }}
      />
      {bad && (
        <span id={said} className="said" role="alert">
          <span className="visually-hidden">{p.label}: </span>must be a number
        </span>
      )}
    </>
  );
}
