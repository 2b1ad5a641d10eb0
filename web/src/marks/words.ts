/** Words and numbers as they are shown. */
import type { Requirement, Verdict } from "../app/api";

export const WORD: Record<Verdict, string> = {
  in: "In",
  out: "Out",
  "too close": "Too close to call",
  "not measured": "Not measured",
  stale: "Stale",
  accepted: "Accepted",
};

export const plain = (text: string): string => text.replaceAll("_", " ");

export const positionWord = (position: string): string => plain(position.replace("_stop", ""));

const minus = (text: string): string => text.replace(/^-(?=[\d.])/, "−");

export function shown(value: number | null | undefined, unit: string, decimals = 1): string {
  if (value === null || value === undefined) return "–";
  const text = value.toFixed(decimals);
  return minus(Number(text) === 0 ? text.replace("-", "") : text) + unit;
}

/** A limit without needless zeros. */
export const limit = (value: number, unit: string): string =>
  minus(String(Number(value.toFixed(2)))) + unit;

export function range(lo: number | null, hi: number | null, unit: string): string {
  if (lo === null) return `at most ${limit(hi ?? 0, unit)}`;
  if (hi === null) return `at least ${limit(lo, unit)}`;
  if (lo === -hi) return `±${limit(hi, unit)}`;
  return `${limit(lo, unit)} to ${limit(hi, unit)}`;
}

export function requirementName(q: Requirement): string {
  const position = positionWord(q.position);
  switch (q.kind) {
    case "travel":
      return position;
    case "neutral":
      return "neutral alignment";
    case "symmetry":
      return `${position}: left against right`;
    case "ratio":
      return "up over down";
    case "repeatability":
      return "neutral from both sides";
  }
}

export const when = (iso: string): string =>
  new Date(iso).toLocaleString(undefined, { dateStyle: "medium", timeStyle: "short" });

export const capital = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);

/** A day, from an ISO date without a time. */
export const day = (iso: string): string =>
  new Date(`${iso}T12:00:00`).toLocaleDateString(undefined, {
    weekday: "short",
    day: "numeric",
    month: "short",
  });

export const plural = (n: number, word: string, many = `${word}s`): string =>
  `${n} ${n === 1 ? word : many}`;

/** A name as an address may have it. */
export const addressOf = (name: string): string =>
  name
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, "-")
    .replace(/^-|-$/g, "");
