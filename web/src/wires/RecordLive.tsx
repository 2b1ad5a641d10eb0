/** A device read again and again from its trigger on; the samples of the sheet follow. */
import { useEffect, useRef, useState } from "react";
import { useOutletContext } from "react-router";
import Button from "react-bootstrap/Button";

import { newKey, Problem } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { useInstruments } from "../app/queries";
import { readLive } from "../app/readLive";
import { Choice } from "../kit/fields";
import { Said } from "../marks/Said";
import { addressOf } from "../marks/words";
import { Overdue } from "./LiveMeter";
import type { Typed } from "../worksheets/AskedField";

/** Read no oftener than this, ms, and never more samples than a sheet keeps. */
const PAUSE = 250;
const MOST = 190;

export function RecordLive(p: { typed: Typed; set: (more: Typed) => void }) {
  const { aircraft } = useOutletContext<FrameContext>();
  const live = (useInstruments(aircraft.slug).data?.results ?? []).filter(
    (i) => i.live && i.kind === "signal",
  );
  const [chosen, setChosen] = useState("");
  const [on, setOn] = useState(false);
  const [error, setError] = useState<unknown>(null);
  const set = useRef(p.set);
  useEffect(() => {
    set.current = p.set;
  });
  const device = live.find((i) => String(i.id) === chosen) ?? live[0];
  const ends = Array.isArray(p.typed.windows)
    ? Math.max(0, ...p.typed.windows.map((w) => seconds(w.to)))
    : 0;
  const id = device?.id ?? 0;
  const name = device?.name ?? "";
  useEffect(() => {
    if (!on) return;
    let stopped = false;
    let timer = 0;
    let began = 0;
    const run = newKey();
    const samples: { t: string; value: string }[] = [];
    const pause = Math.max(PAUSE, (ends * 1000) / MOST);
    const again = async () => {
      try {
        const sent = Date.now();
        const { value } = await readLive(aircraft.slug, id, run, addressOf(name));
        if (stopped) return;
        // Of a reading, half way between asked and answered is its time.
        const at = (sent + Date.now()) / 2;
        began ||= at;
        const t = (at - began) / 1000;
        samples.push({ t: t.toFixed(2), value: String(value) });
        set.current({ samples: [...samples] });
        setError(null);
        if ((ends > 0 && t > ends) || samples.length >= MOST) {
          setOn(false);
          return;
        }
      } catch (e) {
        if (stopped) return;
        // A reading missed leaves a gap, which the sheet judges; off is off.
        setError(e);
        if (!(e instanceof Problem) || ![429, 503].includes(e.status)) {
          setOn(false);
          return;
        }
      }
      timer = window.setTimeout(() => void again(), pause);
    };
    void again();
    return () => {
      stopped = true;
      window.clearTimeout(timer);
    };
  }, [on, id, name, ends, aircraft.slug]);
  if (!device)
    return (
      <p className="quiet">
        A device that can be read live would fill in the samples by itself: enter it under
        Instruments as “a device’s own signal”.
      </p>
    );
  return (
    <div className="inline-form" role="group" aria-label="Record live">
      {live.length > 1 && (
        <Choice
          label="Device"
          value={String(device.id)}
          set={setChosen}
          options={live.map((i) => ({ value: String(i.id), word: i.name }))}
        />
      )}
      {device.overdue && <Overdue meter={device} />}
      <Button
        variant="outline-primary"
        disabled={device.overdue}
        onClick={() => {
          // Known to its accuracy, where nobody said otherwise.
          if (!on && !p.typed.u) p.set({ u: (2 * device.u).toPrecision(2) });
          setOn(!on);
        }}
      >
        {on ? "End the record" : `Trigger it and record: ${device.name}`}
      </Button>
      {on && <span role="status">Recording …</span>}
      <Said error={error} />
    </div>
  );
}

const seconds = (text: string | undefined): number => {
  const found = /^\s*([\d.]+)\s*(min)?/.exec(text ?? "");
  return found ? Number(found[1]) * (found[2] ? 60 : 1) : 0;
};
