/** A plumbing as it is joined, laid out from its lines; what is wrong stands at its part. */
import type { ElkNode } from "elkjs";

import { cornersOf, drawnAlong, roomiest, useLayout } from "../../kit/laid";
import type { Figure } from "../../worksheets/Answer";

type Drawn = {
  nodes: { id: string; kind: string }[];
  edges: { id: string; from: string; to: string }[];
  bad: { at: string; said: string }[];
};
type Laid = {
  width: number;
  height: number;
  nodes: { id: string; x: number; y: number; width: number; height: number }[];
  edges: { id: string; points: { x: number; y: number }[]; at: { x: number; y: number } }[];
};
const [HIGH, APART, LETTER] = [52, 18, 8.2];

export const Schematic: Figure = ({ figure }) => {
  const drawn = figure as unknown as Drawn;
  const graph = useLayout(graphOf(drawn));
  if (!graph) return <p className="quiet">Drawing …</p>;
  const laid = placed(graph);
  const kinds = new Map(drawn.nodes.map((n) => [n.id, n.kind.replaceAll("_", " ")]));
  const bad = new Map<string, string[]>();
  for (const b of drawn.bad) bad.set(b.at, [...(bad.get(b.at) ?? []), b.said]);
  return (
    <figure className="schematic">
      <div className="wide-table" tabIndex={0} role="group" aria-label="Schematic">
        <svg
          viewBox={`-6 -6 ${laid.width + 12} ${laid.height + 12}`}
          style={{ maxWidth: laid.width + 12, minWidth: Math.min(laid.width, 640) }}
          role="img"
          aria-label={`${drawn.nodes.length} parts, ${drawn.edges.length} lines, ${drawn.bad.length} findings`}
        >
          {laid.edges.map((e) => (
            <g key={e.id} className={bad.has(e.id) ? "bad" : ""}>
              <path className="pipe" d={drawnAlong(e.points)} />
              <text className="pipe-name" x={e.at.x + 4} y={e.at.y - 4}>
                {bad.has(e.id) && "✕ "}
                {e.id}
              </text>
            </g>
          ))}
          {laid.nodes.map((n) => (
            <g key={n.id} className={bad.has(n.id) ? "part bad" : "part"}>
              <rect x={n.x} y={n.y} width={n.width} height={n.height} />
              <text x={n.x + 8} y={n.y + 20} className="part-name">
                {bad.has(n.id) && "✕ "}
                {n.id}
              </text>
              <text x={n.x + 8} y={n.y + 39}>
                {kinds.get(n.id)}
              </text>
            </g>
          ))}
        </svg>
      </div>
      {drawn.bad.some((b) => b.at) && (
        <figcaption>✕ marks what the findings on the sheet are about.</figcaption>
      )}
    </figure>
  );
};

function graphOf({ nodes, edges }: Drawn): ElkNode {
  const wide = (n: { id: string; kind: string }) =>
    Math.max(n.id.length + 2, n.kind.length) * LETTER + 16;
  // High enough for its lines to leave it one above the other, each with its name.
  const high = (id: string) =>
    Math.max(HIGH, APART * (1 + edges.filter((e) => e.from === id || e.to === id).length));
  return {
    id: "all",
    layoutOptions: {
      "elk.direction": "RIGHT",
      "elk.layered.spacing.nodeNodeBetweenLayers": "40",
      "elk.spacing.nodeNode": "18",
    },
    children: nodes.map((n) => ({ id: n.id, width: wide(n), height: high(n.id) })),
    edges: edges.map((e) => ({ id: e.id, sources: [e.from], targets: [e.to] })),
  };
}

function placed(graph: ElkNode): Laid {
  return {
    width: graph.width ?? 0,
    height: graph.height ?? 0,
    nodes: (graph.children ?? []).map((c) => ({
      id: c.id,
      x: c.x ?? 0,
      y: c.y ?? 0,
      width: c.width ?? 0,
      height: c.height ?? 0,
    })),
    edges: (graph.edges ?? []).map((e) => {
      const points = cornersOf(e);
      return { id: e.id, points, at: roomiest(points) };
    }),
  };
}
