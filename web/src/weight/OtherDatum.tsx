/** Arms against another datum: no verdict and no margin changes. */
import { useDeferredValue, useState } from "react";
import { useOutletContext } from "react-router";

import type { FrameContext } from "../app/Frame";
import { useDatum } from "../app/queries";
import { TextField } from "../kit/fields";
import { Said } from "../marks/Said";

export function OtherDatum() {
  const { aircraft } = useOutletContext<FrameContext>();
  const [at, setAt] = useState("");
  const found = useDatum(aircraft.slug, useDeferredValue(at));
  const d = found.data;
  return (
    <details className="other-datum">
      <summary>Arms against another datum</summary>
      <div className="inline-form">
        <TextField label="The other datum lies at" value={at} set={setAt} hint="1500 mm" />
      </div>
      <Said error={at.trim() ? found.error : null} />
      {d && at.trim() && (
        <dl className="facts">
          {d.x_mm !== null && (
            <div>
              <dt>Empty</dt>
              <dd>
                {d.kg?.toFixed(1)} kg at {d.x_mm.toFixed(0)} mm, {d.moment?.toFixed(1)} kg·m
              </dd>
            </div>
          )}
          <div>
            <dt>Corners of the envelope</dt>
            <dd>{d.corners.map(([a, m]) => `${a?.toFixed(0)} at ${m} kg`).join("; ")}</dd>
          </div>
          <div>
            <dt>Stations and tanks</dt>
            <dd>
              {d.stations
                .map(([name, mm]) => `${String(name)} ${Number(mm).toFixed(0)} mm`)
                .join("; ")}
            </dd>
          </div>
        </dl>
      )}
    </details>
  );
}
