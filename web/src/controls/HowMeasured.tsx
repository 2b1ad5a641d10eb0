/** How a reading is taken: method, instrument, where the gauge lies, and the conditions. */
import type { Instrument, Surface } from "../app/api";
import { isLength, METHODS, skinsOf, type Way } from "./ways";
import { Choice, TextField } from "../kit/fields";

/** Empty: nobody said. */
type YesNo = "" | "yes" | "no";
export type Conditions = {
  gust_locks_out: YesNo;
  cables_tensioned: YesNo;
  flap_setting: string;
  temperature: string;
  gap: string;
  arm: string;
  servo: "" | "connected" | "disconnected";
};

export const noConditions: Conditions = {
  gust_locks_out: "",
  cables_tensioned: "",
  flap_setting: "",
  temperature: "",
  gap: "",
  arm: "",
  servo: "",
};

/** As they are sent: what nobody said is left out. */
export function told(c: Conditions) {
  const { gust_locks_out, cables_tensioned, ...rest } = c;
  return {
    ...rest,
    ...(gust_locks_out ? { gust_locks_out: gust_locks_out === "yes" } : {}),
    ...(cables_tensioned ? { cables_tensioned: cables_tensioned === "yes" } : {}),
  };
}

const SAID = [
  { value: "", word: "not said" },
  { value: "yes", word: "yes" },
  { value: "no", word: "no" },
];

type Props = {
  way: Way;
  setWay: (way: Way) => void;
  conditions: Conditions;
  setConditions: (c: Conditions) => void;
  instruments: Instrument[];
  surface: Surface;
  position: string;
};

export function HowMeasured(p: Props) {
  const { way, setWay, conditions, setConditions, surface } = p;
  const kind = isLength(way.method) ? "length" : "angle";
  const offered = p.instruments.filter((i) => i.kind === kind);
  const instrument = offered.find((i) => i.id === way.instrument);
  const gauge = way.method === "gauge_difference" || way.method === "swept_gauge";
  const methods = METHODS.filter((m) => !(p.position === "neutral" && isLength(m.value)));
  const chooseMethod = (index: number) => {
    const m = methods[index];
    if (!m) return;
    const same = p.instruments.find(
      (i) => i.id === way.instrument && (i.kind === "length") === isLength(m.value),
    );
    const fits =
      same ?? p.instruments.find((i) => (i.kind === "length") === isLength(m.value) && !i.overdue);
    setWay({ ...way, method: m.value, practice: m.practice, instrument: fits?.id ?? 0 });
  };
  const text = (
    field: "flap_setting" | "temperature" | "gap" | "arm",
    label: string,
    hint: string,
  ) => (
    <label>
      {label}
      <input
        className="form-control"
        value={conditions[field]}
        placeholder={hint}
        onChange={(e) => setConditions({ ...conditions, [field]: e.target.value })}
      />
    </label>
  );
  return (
    <div className="how">
      <label>
        Method
        <select
          className="form-select"
          value={methods.findIndex(
            (m) => m.value === way.method && m.practice === (m.practice && way.practice),
          )}
          onChange={(e) => chooseMethod(Number(e.target.value))}
        >
          {methods.map((m, i) => (
            <option key={m.word} value={i}>
              {m.word}
            </option>
          ))}
        </select>
      </label>
      <label>
        Instrument
        <select
          className="form-select"
          value={way.instrument}
          onChange={(e) => setWay({ ...way, instrument: Number(e.target.value) })}
        >
          {!instrument && <option value={0}>Choose one</option>}
          {offered.map((i) => (
            <option key={i.id} value={i.id}>
              {i.name} ±{i.accuracy_typed}
              {i.overdue ? ", calibration past" : ""}
            </option>
          ))}
        </select>
      </label>
      {gauge && (
        <label>
          Gauge set to zero
          <select
            className="form-select"
            value={way.zero}
            onChange={(e) => setWay({ ...way, zero: e.target.value })}
          >
            <option value="fixed surface">on the fixed surface, in line with it at neutral</option>
            <option value="level">not at all: reads from level</option>
            {p.position !== "neutral" && <option value="neutral">at neutral</option>}
          </select>
        </label>
      )}
      <details>
        <summary>Where the gauge lies, and conditions</summary>
        <div className="how-more">
          {gauge && (
            <label>
              Reading grows when the trailing edge goes
              <select
                className="form-select"
                value={way.sense}
                onChange={(e) => setWay({ ...way, sense: Number(e.target.value) as 1 | -1 })}
              >
                <option value={surface.positive === "trailing_edge_down" ? -1 : 1}>
                  {surface.positive === "trailing_edge_right" ? "right" : "up"}
                </option>
                <option value={surface.positive === "trailing_edge_down" ? 1 : -1}>
                  {surface.positive === "trailing_edge_right" ? "left" : "down"}
                </option>
              </select>
            </label>
          )}
          {instrument?.face === "quadrant_90" && (
            <label>
              Trailing edge was
              <select
                className="form-select"
                value={way.side ?? ""}
                onChange={(e) => {
                  setWay({
                    ...way,
                    side: e.target.value ? (Number(e.target.value) as 1 | -1) : null,
                  });
                }}
              >
                <option value="">not noted</option>
                <option value={1}>above level</option>
                <option value={-1}>below level</option>
              </select>
            </label>
          )}
          {(gauge || way.method === "included_angle") && (
            <label>
              Skin
              <select
                className="form-select"
                value={way.skin}
                onChange={(e) => setWay({ ...way, skin: e.target.value })}
              >
                {skinsOf(surface).map((s) => (
                  <option key={s}>{s}</option>
                ))}
              </select>
            </label>
          )}
          <TextField
            label="Place"
            value={way.place}
            set={(x) => setWay({ ...way, place: x })}
            hint="mid span, rib 3"
          />
          {p.position === "neutral" && (
            <Choice
              label="Came to neutral"
              value={way.approach}
              set={(x) => setWay({ ...way, approach: x })}
              options={[
                { value: "", word: "not noted" },
                { value: "above", word: "from above" },
                { value: "below", word: "from below" },
              ]}
            />
          )}
          {way.method === "included_angle" && text("gap", "Gap seen at the arm's end", "0.4 mm")}
          {way.method === "included_angle" && text("arm", "Length of that arm", "140 mm")}
          {text("temperature", "Temperature", "14 C or 57 F")}
          {text("flap_setting", "Flap setting", "up")}
          <label>
            Autopilot servo
            <select
              className="form-select"
              value={conditions.servo}
              onChange={(e) =>
                setConditions({ ...conditions, servo: e.target.value as Conditions["servo"] })
              }
            >
              <option value="">not noted</option>
              <option value="connected">connected</option>
              <option value="disconnected">disconnected</option>
            </select>
          </label>
          <Choice
            label="Gust locks out"
            value={conditions.gust_locks_out}
            set={(x) => setConditions({ ...conditions, gust_locks_out: x as YesNo })}
            options={SAID}
          />
          <Choice
            label="Cables tensioned"
            value={conditions.cables_tensioned}
            set={(x) => setConditions({ ...conditions, cables_tensioned: x as YesNo })}
            options={SAID}
          />
        </div>
      </details>
    </div>
  );
}
