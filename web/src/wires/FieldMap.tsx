/** How far the needle is turned around the sensor, as steps of error; a click moves the sensor. */
import { marks, scale } from "../kit/plot";
import type { Figure } from "../worksheets/Answer";

const WIDE = 640;
const LEFT = 52;
const FOOT = 30;

export const FieldMap: Figure = ({ figure, place }) => {
  const error = figure.error_deg as number[][];
  const [x0, x1] = figure.x_mm as [number, number];
  const [y0, y1] = figure.y_mm as [number, number];
  const sensor = figure.sensor_mm as number[];
  const ways = figure.ways_mm as number[][][];
  const magnets = figure.magnets_mm as number[][];
  const limit = (figure.limit_deg as number | null) ?? 1;
  const high = Math.min(520, Math.max(160, ((WIDE - LEFT) * (y1 - y0)) / (x1 - x0)));
  const px = scale([x0, x1], [LEFT, WIDE]);
  const py = scale([y0, y1], [high, 4]);
  const [wide, tall] = [
    (WIDE - LEFT) / (error[0]?.length ?? 1),
    (high - 4) / Math.max(error.length, 1),
  ];
  const steps = [limit / 4, limit / 2, limit, limit * 4];
  const step = (e: number) => steps.filter((s) => e > s).length;
  const move = (e: React.MouseEvent<SVGSVGElement>) => {
    if (!place) return;
    const box = e.currentTarget.getBoundingClientRect();
    const at = (part: number, whole: number, of: number) => (part / whole) * of;
    const x = at(e.clientX - box.left, box.width, WIDE);
    const y = at(e.clientY - box.top, box.height, high + FOOT);
    if (x < LEFT || y > high) return;
    const [station, butt] = [scale([LEFT, WIDE], [x0, x1])(x), scale([high, 4], [y0, y1])(y)];
    place(
      "at",
      `${station.toFixed(0)} mm; ${butt.toFixed(0)} mm; ${(sensor[2] ?? 0).toFixed(0)} mm`,
    );
  };
  return (
    <figure className="field-map">
      <svg
        viewBox={`0 0 ${WIDE} ${high + FOOT}`}
        role="img"
        aria-label="Error of the compass around the sensor, seen from above"
        onClick={move}
        className={place ? "moves" : ""}
      >
        {error.map((row, n) =>
          row.map((e, k) => (
            <rect
              key={`${n} ${k}`}
              className={`err-${step(e)}`}
              x={LEFT + k * wide}
              y={high - (n + 1) * tall}
              width={wide + 0.6}
              height={tall + 0.6}
            />
          )),
        )}
        {ways.map((way, n) => (
          <polyline
            key={n}
            points={way.map((p) => `${px(p[0] ?? 0)},${py(p[1] ?? 0)}`).join(" ")}
          />
        ))}
        {magnets.map((p, n) => (
          <rect
            key={n}
            className="magnet"
            x={px(p[0] ?? 0) - 5}
            y={py(p[1] ?? 0) - 5}
            width={10}
            height={10}
          />
        ))}
        {figures(error).map(([n, k, e]) => (
          <text
            key={`${n} ${k}`}
            className="value"
            x={LEFT + (k + 0.5) * wide}
            y={high - (n + 0.5) * tall + 4}
            textAnchor="middle"
          >
            {e >= 89 ? "–" : `${e.toFixed(e < 1 ? 2 : 1)}°`}
          </text>
        ))}
        <circle className="sensor" cx={px(sensor[0] ?? 0)} cy={py(sensor[1] ?? 0)} r={8} />
        {marks(x0, x1, 5).map((v) => (
          <text key={v} x={px(v)} y={high + 16} textAnchor="middle">
            {v.toFixed(0)}
          </text>
        ))}
        {marks(y0, y1, 4).map((v) => (
          <text key={v} x={LEFT - 6} y={py(v) + 4} textAnchor="end">
            {v.toFixed(0)}
          </text>
        ))}
        <text x={WIDE} y={high + 28} textAnchor="end">
          station, mm; upwards butt line, mm
        </text>
      </svg>
      <figcaption>
        <p className="load-names">
          {steps.map((s, n) => (
            <span key={s}>
              <i className={`err-${n}`} /> up to {s.toFixed(s < 1 ? 2 : 1)}°
            </span>
          ))}
          <span>
            <i className="err-4" /> more
          </span>
        </p>
        At water line {(figure.z_mm as number).toFixed(0)} mm, by the currents and magnets entered
        here; the ring is the sensor.{place ? " A click puts it elsewhere." : ""}
      </figcaption>
    </figure>
  );
};

/** A few of the values as numbers, evenly over the map. */
function figures(error: number[][]): [number, number, number][] {
  const found: [number, number, number][] = [];
  const [down, across] = [4, 6];
  for (let i = 0; i < down; i += 1)
    for (let j = 0; j < across; j += 1) {
      const n = Math.floor(((i + 0.5) / down) * error.length);
      const k = Math.floor(((j + 0.5) / across) * (error[0]?.length ?? 0));
      const e = error[n]?.[k];
      if (e !== undefined) found.push([n, k, e]);
    }
  return found;
}
