/** Boxes and the lines between them, placed by a layered layout that loads when it is needed. */
import type { ElkExtendedEdge, ElkNode } from "elkjs";
import { useEffect, useState } from "react";

type Point = { x: number; y: number };
const LAYERED = {
  "elk.algorithm": "layered",
  "elk.edgeRouting": "ORTHOGONAL",
  // What was entered first stands first, also where a line leads back.
  "elk.layered.cycleBreaking.strategy": "MODEL_ORDER",
  "elk.layered.considerModelOrder.strategy": "NODES_AND_EDGES",
};

/** The graph with places; null until it is laid. */
export function useLayout(graph: ElkNode): ElkNode | null {
  const [laid, setLaid] = useState<ElkNode | null>(null);
  const key = JSON.stringify(graph);
  useEffect(() => {
    let wanted = true;
    void layOut(JSON.parse(key) as ElkNode).then((l) => {
      if (wanted) setLaid(l);
    });
    return () => {
      wanted = false;
    };
  }, [key]);
  return laid;
}

async function layOut(graph: ElkNode): Promise<ElkNode> {
  const { default: Elk } = await import("elkjs/lib/elk.bundled.js");
  return new Elk().layout({ ...graph, layoutOptions: { ...LAYERED, ...graph.layoutOptions } });
}

/** The corners of a laid line. */
export const cornersOf = (e: ElkExtendedEdge): Point[] =>
  (e.sections ?? []).flatMap((s) => [s.startPoint, ...(s.bendPoints ?? []), s.endPoint]);

export const drawnAlong = (points: Point[]): string =>
  points.map((q, i) => `${i ? "L" : "M"}${q.x} ${q.y}`).join("");

/** Where a line's name has most room: at the left of its longest level stretch. */
export function roomiest(points: Point[]): Point {
  let best = { x: points[0]?.x ?? 0, y: points[0]?.y ?? 0, long: 0 };
  points.forEach((q, i) => {
    const r = points[i + 1];
    if (!r || Math.abs(q.y - r.y) > 0.5) return;
    const long = Math.abs(q.x - r.x);
    if (long > best.long) best = { x: Math.min(q.x, r.x), y: q.y, long };
  });
  return best;
}
