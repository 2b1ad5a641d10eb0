/** The ways of measuring, as the capture row offers them; and what was used last. */
import type { Instrument, Reading, Sheet, Surface } from "../app/api";

export type Way = {
  method: Reading["method"];
  practice: string;
  instrument: number;
  zero: string;
  sense: 1 | -1;
  side: 1 | -1 | null;
  skin: string;
  place: string;
  approach: string;
};

export const METHODS: { value: Reading["method"]; practice: string; word: string }[] = [
  { value: "gauge_difference", practice: "", word: "Angle gauge" },
  { value: "edge_offset", practice: "straight", word: "Edge offset, straight between" },
  { value: "edge_offset", practice: "perpendicular", word: "Edge offset, square to neutral" },
  { value: "edge_offset", practice: "arc", word: "Edge offset, along the arc" },
  { value: "included_angle", practice: "", word: "Included angle, template or square" },
  {
    value: "swept_gauge",
    practice: "held_streamwise",
    word: "Swept hinge, gauge held stream-wise",
  },
  { value: "swept_gauge", practice: "fixed_to_skin", word: "Swept hinge, gauge fixed to skin" },
];

export const isLength = (method: string): boolean => method === "edge_offset";

export function skinsOf(surface: Surface): string[] {
  return surface.positive === "trailing_edge_right" ? ["left", "right"] : ["upper", "lower"];
}

/** Start from the last reading here, else from the first instrument that fits. */
export function firstWay(
  sheet: Sheet,
  surface: Surface,
  position: string,
  instruments: Instrument[],
): Way {
  const mine = sheet.readings.filter((r) => r.surface === surface.slug && r.current);
  const last = mine.filter((r) => r.position === position).at(-1) ?? mine.at(-1);
  const named = instruments.find((i) => i.name === last?.instrument);
  const upright = surface.positive === "trailing_edge_right";
  const kind = upright ? "length" : "angle";
  const fits = named ?? instruments.find((i) => i.kind === kind && !i.overdue) ?? instruments[0];
  const method = last?.method ?? (upright ? "edge_offset" : "gauge_difference");
  return {
    method: position === "neutral" && isLength(method) ? "gauge_difference" : method,
    practice: last?.practice ?? (upright ? "straight" : ""),
    instrument: fits?.id ?? 0,
    zero: last?.zero ?? "fixed surface",
    sense: surface.positive === "trailing_edge_down" ? -1 : 1,
    side: null,
    skin: last?.skin || (skinsOf(surface)[0] ?? ""),
    place: last?.place ?? "",
    approach: "",
  };
}
