/** The spectrum of a recording: its floor, the band that was searched, the tones picked. */
import type { Heard } from "../app/api";
import { shown } from "../marks/words";
import { line, marks, powers, scale } from "../kit/plot";

const W = 700;
const H = 200;
const L = 12;
const B = 28;

export function SpectrumFigure({ heard }: { heard: Heard }) {
  const x1 = Math.min(
    heard.spectrum.at(-1)?.[0] ?? 100,
    Math.max(heard.frequency_Hz * 8, (heard.band_Hz[1] ?? 0) * 1.2),
  );
  const pairs = heard.spectrum.filter(([f]) => (f ?? 0) <= x1);
  const top = Math.max(...pairs.map(([, a]) => a ?? 0), 1e-9);
  const low = Math.max(heard.floor / 4, top / 1e4);
  // Amplitudes as they are heard: by powers of ten.
  const py = powers([low, top], [H - B, 26]);
  const px = scale([0, x1], [L, W - L]);
  const [b0, b1] = [heard.band_Hz[0] ?? 0, heard.band_Hz[1] ?? 0];
  const picked = heard.peaks.filter(([f]) => (f ?? 0) <= x1);
  return (
    <svg
      className="spectrum"
      viewBox={`0 0 ${W} ${H}`}
      role="img"
      aria-label={`Spectrum: tone at ${shown(heard.frequency_Hz, " Hz", 2)}`}
    >
      <rect className="curve-band" x={px(b0)} width={px(b1) - px(b0)} y="6" height={H - B - 6} />
      <text x={px(b1) - 4} y={H - B - 6} textAnchor="end" className="axis-name">
        expected here
      </text>
      <path className="curve-grid" d={`M${L} ${py(heard.floor)}H${W - L}`} strokeDasharray="3 4" />
      <path
        className="spectrum-line"
        d={line(
          pairs.map(([f, a]) => [f ?? 0, a ?? 0]),
          px,
          py,
        )}
      />
      {picked.map(([f, a]) => {
        const h = Math.round((f ?? 0) / heard.frequency_Hz);
        const mine = h >= 1 && Math.abs((f ?? 0) - h * heard.frequency_Hz) < 0.03 * (f ?? 0);
        return (
          <g key={f} className={mine ? "tone" : "tone tone-other"}>
            <circle cx={px(f ?? 0)} cy={py(a ?? 0)} r="5" />
            <text x={px(f ?? 0)} y={py(a ?? 0) - 9} textAnchor="middle">
              {mine ? `×${h}` : ""}
            </text>
          </g>
        );
      })}
      <path className="tone-found" d={`M${px(heard.frequency_Hz)} 6V${H - B}`} />
      {marks(0, x1, 10).map((f) => (
        <text key={f} x={px(f)} y={H - 9} textAnchor="middle">
          {f}
        </text>
      ))}
      <text x={W - L} y={H - B - 6} textAnchor="end" className="axis-name">
        Hz
      </text>
    </svg>
  );
}
