/** What the parts add up to, how sure that is, and which to weigh next. */
import type { Estimate } from "./figures";

export function EstimateSaid({ estimate: e }: { estimate: Estimate | null }) {
  if (!e)
    return (
      <p>
        Nothing yet. Enter the parts of the empty aircraft, each with its mass, its arm and how that
        is known: the estimate follows, and which parts to weigh next.
      </p>
    );
  if (e.why) return <p>It does not add up yet. {e.why}.</p>;
  return (
    <>
      <p className="answer-line">
        <strong>{e.kg.toFixed(0)} kg</strong> ± {e.U_kg.toFixed(0)}, arm{" "}
        <strong>{e.x_mm.toFixed(0)} mm</strong> ± {e.U_mm.toFixed(0)}
      </p>
      <div className="shares" role="img" aria-label={sharesSaid(e)}>
        {Object.entries(e.share)
          .filter(([, s]) => s > 0)
          .map(([known, s]) => (
            <span key={known} className={`share-${known}`} style={{ flexGrow: s }}>
              {known} {(s * 100).toFixed(0)} %
            </span>
          ))}
      </div>
      <p className="quiet">Guesses often all err the same way; this ± does not know that.</p>
      {e.next.length > 0 && (
        <>
          <h2>Weigh next</h2>
          <ol className="weigh-next">
            {e.next.map((n) => (
              <li key={n.name}>
                <strong>{n.name}</strong>: then ± {n.U_kg.toFixed(1)} kg, arm ± {n.U_mm.toFixed(1)}{" "}
                mm
              </li>
            ))}
          </ol>
        </>
      )}
    </>
  );
}

const sharesSaid = (e: Estimate) =>
  Object.entries(e.share)
    .map(([known, s]) => `${known} ${(s * 100).toFixed(0)} %`)
    .join(", ");
