/** The valve where it goes and as it is turned, its hoses, and the sweep of its lever. */
import type { Figure } from "../../worksheets/Answer";

type Drawn = {
  centre_mm: number[];
  panel_mm: number[];
  ports: { id: string; at_mm: number[] }[];
  hoses: { id: string; path_mm: number[][] }[];
  lever: { length_mm: number; from_deg: number; to_deg: number };
};

export const SelectorPlace: Figure = ({ figure }) => {
  const d = figure as unknown as Drawn;
  const [cu = 0, cw = 0] = d.centre_mm;
  const [u0 = 0, w0 = 0, u1 = 0, w1 = 0] = d.panel_mm;
  const every = [...d.hoses.flatMap((h) => h.path_mm), [u0, w0], [u1, w1]];
  const xs = every.map((q) => q[0] ?? 0);
  const ys = every.map((q) => -(q[1] ?? 0));
  const edge = 25;
  const [left, top] = [Math.min(...xs) - edge, Math.min(...ys) - edge];
  const [width, height] = [Math.max(...xs) - left + edge, Math.max(...ys) - top + edge];
  const at = (deg: number) => {
    const a = (deg * Math.PI) / 180;
    return `${cu + d.lever.length_mm * Math.cos(a)} ${-(cw + d.lever.length_mm * Math.sin(a))}`;
  };
  const text = Math.max(9, width / 42);
  const large = d.lever.to_deg - d.lever.from_deg > 180 ? 1 : 0;
  return (
    <figure>
      <svg
        viewBox={`${left} ${top} ${width} ${height}`}
        role="img"
        aria-label="Selector, its hoses and lever"
      >
        <rect className="panel-edge" x={u0} y={-w1} width={u1 - u0} height={w1 - w0} />
        {d.hoses.map((h) => (
          <path
            key={h.id}
            className="tube"
            strokeWidth={8}
            d={h.path_mm
              .map(
                (q, i) => `${i ? "L" : "M"}${(q[0] ?? 0).toFixed(1)} ${(-(q[1] ?? 0)).toFixed(1)}`,
              )
              .join("")}
          />
        ))}
        <path
          className="sweep"
          d={`M${cu} ${-cw}L${at(d.lever.from_deg)}A${d.lever.length_mm} ${d.lever.length_mm} 0 ${large} 0 ${at(d.lever.to_deg)}Z`}
        />
        {d.ports.map((p) => (
          <g key={p.id}>
            <path className="port" d={`M${cu} ${-cw}L${p.at_mm[0]} ${-(p.at_mm[1] ?? 0)}`} />
            <text x={(p.at_mm[0] ?? 0) + 5} y={-(p.at_mm[1] ?? 0) - 5} fontSize={text}>
              {p.id}
            </text>
          </g>
        ))}
        {d.hoses.map((h) => (
          <text
            key={h.id}
            x={(h.path_mm[0]?.[0] ?? 0) + 5}
            y={-(h.path_mm[0]?.[1] ?? 0) - 8}
            fontSize={text}
          >
            {h.id}
          </text>
        ))}
      </svg>
      <figcaption className="quiet">
        To scale in the panel’s plane. Box: where the lever must stay. Shaded: its sweep.
      </figcaption>
    </figure>
  );
};
