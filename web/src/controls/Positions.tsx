/** Where a control is measured: neutral, its stops, and detents by their number. */
import { TextField, Tick } from "../kit/fields";
import { capital, positionWord } from "../marks/words";

const LYING = ["neutral", "up_stop", "down_stop"];
const STANDING = ["neutral", "left_stop", "right_stop"];
const DETENT = "detent_";

/** Stops and detents as the fields hold them. */
export const detentsOf = (positions: string[]): string =>
  positions
    .filter((p) => p.startsWith(DETENT))
    .map((p) => p.replace(DETENT, ""))
    .join("; ");

export const withDetents = (positions: string[], typed: string): string[] => [
  ...positions.filter((p) => !p.startsWith(DETENT)),
  ...typed
    .split(/[;,\s]+/)
    .filter(Boolean)
    .map((n) => `${DETENT}${n}`),
];

export function Positions(p: {
  /** A surface that stands as a rudder does. */
  upright: boolean;
  stops: string[];
  setStops: (stops: string[]) => void;
  detents: string;
  setDetents: (typed: string) => void;
}) {
  const order = p.upright ? STANDING : LYING;
  return (
    <fieldset className="form-name inline-form">
      <legend>Measured at</legend>
      {order.map((x) => (
        <Tick
          key={x}
          label={capital(positionWord(x))}
          value={p.stops.includes(x)}
          set={(on) => p.setStops(order.filter((o) => (o === x ? on : p.stops.includes(o))))}
        />
      ))}
      <TextField
        label="Detents, by their number or angle"
        hint="10; 20; 35"
        value={p.detents}
        set={p.setDetents}
      />
    </fieldset>
  );
}
