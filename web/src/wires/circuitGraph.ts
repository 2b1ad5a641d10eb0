/** A circuit from its bus to its ground as boxes with pins, and wires between the pins. */
import type { ElkNode } from "elkjs";

import type { HarnessRow } from "../app/api";

const LETTER = 7.4;
const [PIN, HIGH, LINE] = [26, 34, 15];

/** What is written at a wire; `way`: it is no wire but a protector, a mate or the structure. */
export type Written = { said: string[]; row: string; open: boolean; way: boolean };
export type Circuit = { graph: ElkNode; edges: Map<string, Written> };

const text = (x: unknown): string => (typeof x === "string" ? x : "");
const parted = (end: string): [string, string] => {
  const at = end.lastIndexOf(".");
  return at < 0 ? [end, ""] : [end.slice(0, at), end.slice(at + 1)];
};

export function circuitGraph(circuit: HarnessRow, wires: HarnessRow[], all: HarnessRow[]): Circuit {
  const boxes = new Map<string, Set<string>>();
  const edges = new Map<string, Written>();
  const lines: { id: string; from: string; to: string }[] = [];
  const pin = (box: string, name: string) => {
    const pins = boxes.get(box) ?? new Set<string>();
    boxes.set(box, pins);
    if (name) pins.add(name);
    return name ? `${box}.${name}` : box;
  };
  const join = (id: string, from: string, to: string, w: Written) => {
    edges.set(id, w);
    lines.push({ id, from, to });
  };
  const order = ["feed", "signal", "return"];
  const sorted = [...wires].sort(
    (a, b) => order.indexOf(text(a.typed.part)) - order.indexOf(text(b.typed.part)),
  );
  // A pin and the one it is mated to are one place: the way leads on there.
  const mates = new Map(
    all.filter((r) => r.kind === "connector").map((r) => [r.name, text(r.typed.mate)]),
  );
  const place = (end: unknown) => {
    const [box, name] = parted(text(end));
    return `${[box, mates.get(box) || box].sort()[0] ?? ""}.${name}`;
  };
  const feeds = sorted.filter((w) => w.typed.part === "feed" && w.typed.from);
  const reached = new Set(feeds.map((w) => place(w.typed.to)));
  const [first] = feeds.filter((w) => !reached.has(place(w.typed.from)));
  const bus = text(circuit.typed.bus) || only(all) || "bus";
  if (first) {
    const amps = text(circuit.typed.protector_A);
    const guard = text(circuit.typed.protector) || "no protector said";
    join("protector", pin(bus, ""), pin(...parted(text(first.typed.from))), {
      said: [amps ? `${guard.replaceAll("_", " ")} ${amps} A` : guard],
      row: "",
      open: false,
      way: true,
    });
  }
  for (const w of sorted) {
    const [from, to] = [text(w.typed.from), text(w.typed.to)];
    const ends = [from, to].map((e, n) =>
      e ? pin(...parted(e)) : pin(`${w.name} ${OPEN[n]}`, ""),
    );
    join(w.slug, ends[0] ?? "", ends[1] ?? "", {
      said: written(w),
      row: w.slug,
      open: !w.done.includes("run"),
      way: false,
    });
  }
  // Through what is mated, where both sides carry a wire of this circuit.
  for (const c of all.filter((r) => r.kind === "connector" && boxes.has(r.name))) {
    const mate = text(c.typed.mate);
    if (!boxes.has(mate) || c.name > mate) continue;
    for (const p of boxes.get(c.name) ?? [])
      if (boxes.get(mate)?.has(p))
        join(`${c.name}.${p} mated`, `${c.name}.${p}`, `${mate}.${p}`, {
          said: ["mated"],
          row: "",
          open: false,
          way: true,
        });
  }
  if (circuit.typed.back === "structure") {
    const starts = new Set(feeds.map((w) => place(w.typed.from)));
    const last = feeds.find((w) => w.typed.to && !starts.has(place(w.typed.to)));
    if (last)
      join("structure", pin(parted(text(last.typed.to))[0], ""), pin("structure", ""), {
        said: ["by structure"],
        row: "",
        open: false,
        way: true,
      });
  }
  return { graph: graphOf(boxes, lines, edges), edges };
}

const OPEN = ["starts nowhere yet", "ends nowhere yet"];
const only = (all: HarnessRow[]): string => {
  const buses = all.filter((r) => r.kind === "bus");
  return buses.length === 1 ? (buses[0]?.name ?? "") : "";
};

function written(w: HarnessRow): string[] {
  const awg = text(w.typed.awg);
  const long = w.length_m === null ? "" : `, ${w.length_m.toFixed(2)} m`;
  const said = [w.name, awg ? `AWG ${awg}${long}` : `gauge not said${long}`];
  const colour = text(w.typed.colour);
  if (colour) said.push(colour);
  const shield = text(w.typed.shield);
  if (shield) said.push(SHIELDS[shield] ?? "");
  const splices = text(w.typed.splices);
  if (splices) said.push(`splice at ${splices}`);
  return said;
}
const SHIELDS: Record<string, string> = {
  a: "shield grounded at its start",
  b: "shield grounded at its end",
  both: "shield grounded at both ends",
  none: "shield grounded nowhere",
};

function graphOf(
  boxes: Map<string, Set<string>>,
  lines: { id: string; from: string; to: string }[],
  edges: Map<string, Written>,
): ElkNode {
  return {
    id: "circuit",
    layoutOptions: {
      "elk.direction": "DOWN",
      "elk.layered.spacing.nodeNodeBetweenLayers": "26",
      "elk.layered.spacing.edgeNodeBetweenLayers": "14",
      "elk.spacing.nodeNode": "20",
      "elk.spacing.edgeLabel": "6",
    },
    children: [...boxes].map(([id, pins]) => ({
      id,
      width: Math.max(id.length * LETTER + 18, pins.size * (PIN + 10)),
      height: HIGH,
      layoutOptions: { "elk.portConstraints": "FREE" },
      ports: [...pins].map((p) => ({
        id: `${id}.${p}`,
        width: Math.max(PIN, p.length * LETTER + 8),
        height: 20,
      })),
    })),
    edges: lines.map((l) => ({
      id: l.id,
      sources: [l.from],
      targets: [l.to],
      labels: [
        {
          text: l.id,
          width: Math.max(...(edges.get(l.id)?.said ?? [""]).map((s) => s.length)) * 6.6,
          height: (edges.get(l.id)?.said.length ?? 1) * LINE + 4,
        },
      ],
    })),
  };
}
