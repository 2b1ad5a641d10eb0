/** Taking a rod out of a linkage file, with all that only moved through it. */
import type { File } from "./useLinkageTrial";

export type Gone = { bodies: string[]; rods: string[]; stops: string[]; outputs: string[] };
type Outputs = Record<string, { body: string }>;

/** What goes with a rod: bodies that it drives, at once or through others, what they carry,
 * the rods on them, and their stops and outputs. */
export function goesWith(f: File, rod: string): Gone {
  const gone = new Set<string>();
  const rods = new Set([rod]);
  for (let before = -1; before !== gone.size + rods.size;) {
    before = gone.size + rods.size;
    for (const b of f.bodies) {
      const by = b.driven_by as { rod?: string; body?: string };
      const moves = (by.rod && rods.has(by.rod)) || (by.body && gone.has(by.body));
      if (moves || (b.carried_by && gone.has(b.carried_by))) gone.add(b.id);
    }
    for (const r of f.rods) if (gone.has(r.a.body) || gone.has(r.b.body)) rods.add(r.id);
  }
  return {
    bodies: f.bodies.filter((b) => gone.has(b.id)).map((b) => b.id),
    rods: f.rods.filter((r) => rods.has(r.id)).map((r) => r.id),
    stops: f.stops.filter((s) => gone.has(s.body)).map((s) => s.id),
    outputs: Object.entries(f.outputs as Outputs)
      .filter(([, o]) => gone.has(o.body))
      .map(([name]) => name),
  };
}

/** The file without them. */
export function dropRod(f: File, rod: string): void {
  const { bodies, rods, stops, outputs } = goesWith(f, rod);
  f.rods = f.rods.filter((r) => !rods.includes(r.id));
  f.bodies = f.bodies.filter((b) => !bodies.includes(b.id));
  f.stops = f.stops.filter((s) => !stops.includes(s.id));
  f.outputs = Object.fromEntries(
    Object.entries(f.outputs as Outputs).filter(([name]) => !outputs.includes(name)),
  );
}
