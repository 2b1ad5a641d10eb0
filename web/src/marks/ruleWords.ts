/** A rule's inputs and answers in words: what each is, how much, in what unit. */
import { plain } from "./words";

export type Field = {
  type?: string | string[];
  description?: string;
  enum?: unknown[];
  "x-unit"?: string;
  items?: Field;
  properties?: Record<string, Field>;
};
export type Schema = { properties: Record<string, Field>; required?: string[] };
export type Row = { name: string; label: string; text: string; unit: string };

/** A description as a label: without its stop, and without what only a program asks. */
export function labelOf(name: string, field: Field | undefined): string {
  const said = (field?.description ?? "")
    .replace(/\s*\{[^}]*\}/g, "")
    .replace(/[;,]? (or )?null(: [^.;]*)?/g, "")
    .replace(/\.$/, "")
    .trim();
  return said || plain(name);
}

/** A number with six digits at most, and a minus that can be told from a dash. */
export function figure(value: number): string {
  const short = Number(value.toPrecision(6));
  if (short !== 0 && (Math.abs(short) < 1e-3 || Math.abs(short) >= 1e9)) {
    const [digits, power] = short.toExponential().split("e");
    return `${minus(digits ?? "")}\u00a0·\u00a010${raised(power ?? "")}`;
  }
  return minus(String(short));
}

const minus = (text: string): string => text.replace("-", "−");

const RAISED = "⁰¹²³⁴⁵⁶⁷⁸⁹";

const raised = (power: string): string =>
  [...power.replace("+", "")].map((c) => (c === "-" ? "⁻" : (RAISED[Number(c)] ?? c))).join("");

export function written(value: unknown, field?: Field): string {
  if (value === null || value === undefined) return "not given";
  if (typeof value === "number") return figure(value);
  if (typeof value === "boolean") return value ? "yes" : "no";
  if (typeof value === "string") return plain(value);
  if (Array.isArray(value)) {
    if (!value.length) return "none";
    return value.map((v) => written(v, field?.items)).join("; ");
  }
  const known = field?.properties ?? {};
  const { name, u } = value as { name?: unknown; u?: unknown };
  // A contribution to an uncertainty: what it comes from, and how much.
  if (typeof name === "string" && typeof u === "number")
    return `${name || "other"} ${figure(Number(u.toPrecision(3)))}`;
  const parts = Object.entries(value as Record<string, unknown>)
    .filter(([, v]) => v !== null && v !== "")
    .map(([k, v]) => `${labelOf(k, known[k])}: ${written(v, known[k])}`);
  return parts.join(", ");
}

/** What is given, in the rule's own order; units of a rule that takes any are told apart. */
export function rowsOf(
  schema: Schema,
  values: Record<string, unknown>,
  units: Record<string, string> = {},
): Row[] {
  return Object.entries(schema.properties)
    .filter(([name]) => values[name] !== undefined && values[name] !== null)
    .map(([name, field]) => ({
      name,
      label: labelOf(name, field),
      text: written(values[name], field),
      unit: (field["x-unit"] ?? units[name] ?? "").replace(/^(?=[^°])/, "\u00a0"),
    }));
}
