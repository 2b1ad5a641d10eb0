/** The live value of an instrument settling; one press takes it into the row. */
import Button from "react-bootstrap/Button";
import { useEffect, useRef, useState } from "react";

import { type Instrument, newKey, Problem } from "./api";
import { readLive } from "./readLive";
import { Said } from "../marks/Said";
import { shown } from "../marks/words";

type Props = {
  slug: string;
  instrument: Instrument;
  surface: string;
  position: string;
  take: (value: string) => void;
  /** What the button says, and the unit behind the value. */
  word?: string;
  unit?: string;
};

const PAUSE = 230;
/** So many unanswered askings in a row, and the instrument counts as gone. */
const GONE = 3;
/** Asked too often, off for a moment, or no line: what another asking may mend. */
const PASSING = [429, 503, 0];

export function LiveCapture(p: Props) {
  const [on, setOn] = useState(false);
  const [live, setLive] = useState<{ value: number; settled: boolean } | null>(null);
  const [error, setError] = useState<unknown>(null);
  const run = useRef("");
  useEffect(() => {
    if (!on) return;
    let stopped = false;
    let timer = 0;
    let missed = 0;
    const ask = async () => {
      try {
        const { value, settled } = await readLive(
          p.slug,
          p.instrument.id,
          run.current,
          p.surface,
          p.position,
        );
        if (stopped) return;
        setLive({ value, settled });
        setError(null);
        missed = 0;
      } catch (e) {
        if (stopped) return;
        // What it showed before is not its value now.
        setLive(null);
        const status = e instanceof Problem ? e.status : -1;
        if (status !== 429) missed += 1;
        if (missed >= GONE || !PASSING.includes(status)) {
          setError(e);
          setOn(false);
          return;
        }
      }
      timer = window.setTimeout(() => void ask(), PAUSE);
    };
    void ask();
    return () => {
      stopped = true;
      window.clearTimeout(timer);
    };
  }, [on, p.slug, p.instrument.id, p.surface, p.position]);
  const begin = () => {
    run.current = newKey();
    setLive(null);
    setError(null);
    setOn(true);
  };
  const decimals = Math.max(0, Math.ceil(-Math.log10(p.instrument.resolution) - 1e-9));
  return (
    <div className="level">
      {!on && (
        <Button variant="outline-primary" type="button" onClick={begin}>
          {p.word ?? "Capture from the level"}
        </Button>
      )}
      {on && (
        <>
          <output className="level-value" aria-live="off">
            {live ? shown(live.value, p.unit ?? "°", decimals) : "…"}
          </output>
          <span className={live?.settled ? "settled" : "quiet"} role="status">
            {live?.settled ? "settled" : "settling"}
          </span>
          <Button
            type="button"
            disabled={!live?.settled}
            onClick={() => {
              if (!live) return;
              p.take(live.value.toFixed(decimals));
              setOn(false);
            }}
          >
            Take it
          </Button>
          <button type="button" className="plain" onClick={() => setOn(false)}>
            Stop
          </button>
        </>
      )}
      <Said error={error} />
    </div>
  );
}
