/** A circuit on one page: from its bus down to its ground, wires between the pins at their ends. */
import { cornersOf, drawnAlong, useLayout } from "../kit/laid";
import type { HarnessRow } from "../app/api";
import { circuitGraph } from "./circuitGraph";

export function CircuitDiagram(p: {
  circuit: HarnessRow;
  wires: HarnessRow[];
  all: HarnessRow[];
  pick: (slug: string) => void;
}) {
  const { graph, edges } = circuitGraph(p.circuit, p.wires, p.all);
  const laid = useLayout(graph);
  if (!p.wires.length) return null;
  if (!laid) return <p className="quiet">Drawing …</p>;
  const [wide, high] = [laid.width ?? 0, laid.height ?? 0];
  return (
    <div className="wide-table" tabIndex={0} role="group" aria-label="The circuit, wire by wire">
      <svg
        className="circuit-diagram"
        viewBox={`-4 -4 ${wide + 8} ${high + 8}`}
        style={{ minWidth: Math.min(wide + 8, 520), maxWidth: wide + 8 }}
      >
        {(laid.edges ?? []).map((e) => {
          const is = edges.get(e.id);
          const [label] = e.labels ?? [];
          return (
            <g key={e.id}>
              <path
                className={is?.way ? "way" : is?.open ? "planned" : "run"}
                d={drawnAlong(cornersOf(e))}
              />
              {is?.said.map((said, n) => {
                const text = (
                  <text key={said} x={label?.x ?? 0} y={(label?.y ?? 0) + 13 + 15 * n}>
                    {said}
                  </text>
                );
                if (n > 0 || !is.row) return text;
                return (
                  <a
                    key={said}
                    href={`?part=harness&row=${is.row}`}
                    onClick={(click) => {
                      click.preventDefault();
                      p.pick(is.row);
                    }}
                  >
                    {text}
                  </a>
                );
              })}
            </g>
          );
        })}
        {(laid.children ?? []).map((box) => (
          <g key={box.id} transform={`translate(${box.x ?? 0} ${box.y ?? 0})`}>
            <rect width={box.width} height={box.height} rx={4} />
            <text x={(box.width ?? 0) / 2} y={(box.height ?? 0) / 2 + 5} textAnchor="middle">
              {box.id}
            </text>
            {(box.ports ?? []).map((port) => (
              <g key={port.id} transform={`translate(${port.x ?? 0} ${port.y ?? 0})`}>
                <rect className="pin-box" width={port.width} height={port.height} rx={10} />
                <text x={(port.width ?? 0) / 2} y={15} textAnchor="middle">
                  {port.id.slice(box.id.length + 1)}
                </text>
              </g>
            ))}
          </g>
        ))}
      </svg>
    </div>
  );
}
