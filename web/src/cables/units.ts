/** Forces in the unit in which the maker's tension was typed. */
import { shown } from "../marks/words";

export const LBF = 4.4482216152605;
export type Unit = "lb" | "N";

export const inUnit = (newton: number, unit: string): number =>
  unit === "N" ? newton : newton / LBF;

export const force = (newton: number | null | undefined, unit: string): string =>
  newton === null || newton === undefined
    ? "–"
    : shown(inUnit(newton, unit), ` ${unit}`, unit === "N" ? 0 : 1);

/** The unit of a cables file: as its target was typed. */
export const unitOf = (document: unknown): Unit => {
  const target = (document as { target?: { tension?: string } } | null)?.target;
  return /\d\s*(da)?N\b/.test(target?.tension ?? "") ? "N" : "lb";
};

export const mm = (m: number | null | undefined, decimals = 0): string =>
  m === null || m === undefined ? "–" : shown(m * 1e3 + 1e-9, " mm", decimals);
