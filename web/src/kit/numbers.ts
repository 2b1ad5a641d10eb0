/** Numbers as people type them: a comma for the point, a true minus, several in a row. */
export const number = (typed: string): number => {
  const plain = typed.trim().replace("−", "-").replace(",", ".");
  return plain === "" ? NaN : Number(plain);
};

/** Several, parted by white space or semicolons. */
export const numbers = (typed: string): number[] =>
  typed
    .split(/[;\s]+/)
    .filter(Boolean)
    .map(number);

/** Metres as the millimetres that a field shows, to a thousandth. */
export const toMm = (m: number): string => String(Number((m * 1e3).toFixed(3)));

/** Typed millimetres as metres, to a thousandth of a millimetre. */
export const fromMm = (typed: string): number => Math.round(number(typed) * 1e3) / 1e6;

/** A place of three numbers, typed in mm, as metres; or what is wrong with it. */
export function place(typed: string, what: string): number[] {
  return three(typed, what).map((v) => v / 1e3);
}

/** Three numbers, or what is wrong. */
export function three(typed: string, what: string): number[] {
  const found = numbers(typed.replaceAll(",", " "));
  if (found.length !== 3 || found.some((v) => !Number.isFinite(v)))
    throw new Error(`${what}: must be station, butt line and water line, such as 3550 0 432.5`);
  return found;
}
