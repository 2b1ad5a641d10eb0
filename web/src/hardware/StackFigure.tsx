/** The bolt in its stack, in true proportion: shank, thread, washers, nut, what shows past it. */
import type { Joint } from "../app/api";

type BoltInputs = {
  stack_m: number;
  bolt: { grip_m: number; length_m: number };
  nut: { height_m: number; kind: string };
  head_washers_m: number[];
  nut_washers_m: number[];
};

export function StackFigure({ joint }: { joint: Joint }) {
  const check = joint.checks.find((c) => c.what === "bolt");
  if (!check) return null;
  const x = check.inputs as unknown as BoltInputs;
  const head = x.head_washers_m.reduce((a, b) => a + b, 0);
  const under = x.nut_washers_m.reduce((a, b) => a + b, 0);
  const total = Math.max(x.bolt.length_m, head + x.stack_m + under + x.nut.height_m) + 0.004;
  const scale = 380 / (total + 0.007);
  const X = (m: number) => (m + 0.007) * scale;
  const thick = joint.stack.map((s) => Number(s.mm) / 1000);
  const upTo = (n: number) => thick.slice(0, n).reduce((a, b) => a + b, head);
  const layers = joint.stack.map((s, i) => ({
    name: String(s.name),
    from: upTo(i),
    to: upTo(i + 1),
  }));
  const at = upTo(layers.length);
  const nut = at + under;
  const said = `Bolt of ${mm(x.bolt.grip_m)} grip and ${mm(x.bolt.length_m)} length through ${mm(x.stack_m)}`;
  return (
    <figure className="stack">
      <svg viewBox="0 0 400 132" role="img" aria-label={said}>
        {layers.map((l, i) => (
          <rect
            key={i}
            className={i % 2 ? "layer layer-odd" : "layer"}
            x={X(l.from)}
            y={14}
            width={X(l.to) - X(l.from)}
            height={92}
          />
        ))}
        <Washers x={X(0)} widths={x.head_washers_m} scale={scale} />
        <Washers x={X(at)} widths={x.nut_washers_m} scale={scale} />
        <rect className="metal" x={X(-0.005)} y={36} width={X(0) - X(-0.005)} height={48} />
        <rect className="metal" x={X(0)} y={50} width={X(x.bolt.grip_m) - X(0)} height={20} />
        <rect
          className="thread"
          x={X(x.bolt.grip_m)}
          y={51}
          width={X(x.bolt.length_m) - X(x.bolt.grip_m)}
          height={18}
        />
        <rect
          className="nut"
          x={X(nut)}
          y={34}
          width={X(nut + x.nut.height_m) - X(nut)}
          height={52}
        />
        <path className="grip-end" d={`M${X(x.bolt.grip_m)} 8V112`} />
        <text x={X(x.bolt.grip_m)} y={126} textAnchor="middle">
          grip {mm(x.bolt.grip_m)}
        </text>
      </svg>
      <figcaption className="quiet">
        {layers.map((l) => `${l.name} ${mm(l.to - l.from)}`).join(", ")}; stack {mm(x.stack_m)}
      </figcaption>
    </figure>
  );
}

const mm = (m: number) => `${(m * 1000).toFixed(1)} mm`;

function Washers(p: { x: number; widths: number[]; scale: number }) {
  return p.widths.map((w, i) => {
    const from = p.x + p.widths.slice(0, i).reduce((a, b) => a + b, 0) * p.scale;
    return <rect key={i} className="washer" x={from} y={28} width={w * p.scale} height={64} />;
  });
}
