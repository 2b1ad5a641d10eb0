/** A meter read live beside the field that it fills: the value, and how well the meter knows it. */
import { useOutletContext } from "react-router";

import type { Instrument } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { LiveCapture } from "../app/LiveCapture";
import { useInstruments } from "../app/queries";
import { addressOf } from "../marks/words";

const UNITS = { resistance: ["Ω", "ohm"], current: ["A", "A"] } as const;

export function LiveMeter(p: {
  kind: keyof typeof UNITS;
  /** Where it lies: a wire, or a bus and its breaker. */
  at: string;
  on?: string;
  take: (measured: string, u: string) => void;
}) {
  const { aircraft } = useOutletContext<FrameContext>();
  const all: Instrument[] = useInstruments(aircraft.slug).data?.results ?? [];
  const live = all.filter((i) => i.kind === p.kind && i.live);
  const meter = live.find((i) => !i.overdue) ?? live[0];
  if (!meter) return null;
  if (meter.overdue) return <Overdue meter={meter} />;
  const [shown, typed] = UNITS[p.kind];
  return (
    <LiveCapture
      key={`${p.at} ${p.on ?? ""}`}
      slug={aircraft.slug}
      instrument={meter}
      surface={p.at}
      position={addressOf(p.on ?? "")}
      word={`Read it: ${meter.name.toLowerCase()}`}
      unit={` ${shown}`}
      take={(value) => p.take(`${value} ${typed}`, `${(2 * meter.u).toPrecision(2)} ${typed}`)}
    />
  );
}

/** Past its date nothing is read with it. */
export const Overdue = ({ meter }: { meter: Instrument }) => (
  <p className="overdue">
    {meter.name}: its calibration was due on {meter.calibration_due}. Renew it, or use another.
  </p>
);
