/** One view of lines and boxes to scale, with its scales at the edge. */
import { type PointerEvent, type ReactNode, useEffect, useRef, useState } from "react";

import { marks } from "../kit/plot";
import {
  axisNames,
  fromPaper,
  layerOf,
  onPaper,
  path,
  type P3,
  type Polyline,
  upright,
  type View,
  VIEW_WORDS,
  type Window,
} from "./figures";

export type Drawn = {
  key: string;
  kind: string;
  od: number;
  lines: Polyline[];
  box?: boolean;
  faint?: boolean;
  state?: string;
  name?: string;
};
export type Handle = { n: number; at: P3 };

export function Drawing(p: {
  view: View;
  window: Window;
  label: string;
  drawn: Drawn[];
  /** A line between the nearest points. */
  gap?: [P3, P3] | undefined;
  /** Where a section is taken. */
  station?: number | undefined;
  handles?: Handle[] | undefined;
  drag?: ((n: number, to: P3) => void) | undefined;
  pick?: ((key: string) => void) | undefined;
  children?: ReactNode;
}) {
  const { window: w, view } = p;
  const svg = useRef<SVGSVGElement>(null);
  const held = useRef<Handle | null>(null);
  const wide = useWidth(svg);
  const letter = (LETTER_PX * w.w) / wide;
  const thin = w.w / 320;
  const place = (e: PointerEvent): [number, number] => {
    const box = svg.current?.getBoundingClientRect();
    if (!box) return [0, 0];
    return [
      w.x + ((e.clientX - box.left) / box.width) * w.w,
      w.y + ((e.clientY - box.top) / box.height) * w.h,
    ];
  };
  const [across, up] = axisNames(view);
  return (
    <figure className="clear-view">
      <svg
        ref={svg}
        viewBox={`${w.x} ${w.y} ${w.w} ${w.h}`}
        role="img"
        aria-label={p.label}
        onPointerMove={(e) => {
          if (held.current) p.drag?.(held.current.n, fromPaper(view, place(e), held.current.at));
        }}
        onPointerUp={() => {
          held.current = null;
        }}
        onPointerLeave={() => {
          held.current = null;
        }}
      >
        <Scales window={w} view={view} letter={letter} />
        {p.drawn.map((d) => (
          <g
            key={d.key + (d.faint ? " ends" : "")}
            className={`clear-thing of-${layerOf(d.kind)} ${d.faint ? "faint" : ""} ${d.state ?? ""}`}
            onClick={() => p.pick?.(d.key)}
          >
            {d.lines.map((line, n) => (
              <path
                key={n}
                d={path(view, line)}
                strokeWidth={d.box ? thin : Math.max(d.od, thin * 1.5)}
              >
                {d.name && <title>{d.name}</title>}
              </path>
            ))}
          </g>
        ))}
        {p.gap && <path className="clear-gap" d={path(view, p.gap)} strokeWidth={thin * 2} />}
        {p.gap && view !== undefined && (
          <circle
            className="clear-place"
            cx={onPaper(view, p.gap[0])[0]}
            cy={onPaper(view, p.gap[0])[1]}
            r={w.h / 14}
            strokeWidth={thin * 1.5}
          />
        )}
        {p.station !== undefined && view !== "behind" && (
          <path
            className="clear-station"
            d={`M${p.station} ${w.y}V${w.y + w.h}`}
            strokeWidth={thin}
          />
        )}
        {p.handles?.map((h) => {
          const [x, y] = onPaper(view, h.at);
          return (
            <circle
              key={h.n}
              className="clear-handle"
              data-handle={h.n}
              cx={x}
              cy={y}
              r={w.h / 26}
              strokeWidth={thin * 2}
              onPointerDown={(e) => {
                held.current = h;
                e.currentTarget.ownerSVGElement?.setPointerCapture(e.pointerId);
              }}
            />
          );
        })}
        {p.children}
      </svg>
      <figcaption>
        {VIEW_WORDS[view]} · {across} across, {up} {view === "top" ? "down" : "up"}, mm
      </figcaption>
    </figure>
  );
}

function Scales({ window: w, view, letter }: { window: Window; view: View; letter: number }) {
  const xs = marks(w.x, w.x + w.w, Math.min(7, w.w / letter / 6));
  const ys = marks(w.y, w.y + w.h, 4);
  return (
    <g className="clear-scales" fontSize={letter}>
      {xs.map((x) => (
        <g key={x}>
          <path d={`M${x} ${w.y}V${w.y + w.h}`} strokeWidth={w.w / 1600} />
          <text x={x + letter * 0.15} y={w.y + w.h - letter * 0.25}>
            {label(x)}
          </text>
        </g>
      ))}
      {ys.map((y) => (
        <g key={y}>
          <path d={`M${w.x} ${y}H${w.x + w.w}`} strokeWidth={w.w / 1600} />
          <text x={w.x + letter * 0.2} y={y - letter * 0.15}>
            {label(upright(view, y))}
          </text>
        </g>
      ))}
    </g>
  );
}

const LETTER_PX = 13;

/** How wide it is on the screen, px. */
function useWidth(of: { current: SVGSVGElement | null }): number {
  const [width, setWidth] = useState(700);
  useEffect(() => {
    const svg = of.current;
    if (!svg || typeof ResizeObserver === "undefined") return;
    const seen = new ResizeObserver(() => setWidth(svg.clientWidth || 700));
    seen.observe(svg);
    return () => seen.disconnect();
  }, [of]);
  return width;
}

const label = (v: number): string => `${v < -0.5 ? "−" : ""}${Math.abs(Math.round(v))}`;
