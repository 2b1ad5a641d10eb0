/** A lane in two minutes: a few words about the aircraft, then every limit is yours to change. */
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";

import { api, got } from "../app/api";
import { Choice, same, TextField } from "../kit/fields";
import { Entry } from "../kit/Entry";
import "./lane.css";

export function NewAircraft() {
  const navigate = useNavigate();
  const client = useQueryClient();
  const [v, setV] = useState({ name: "", length: "6 m", span: "9 m" });
  const [engine, setEngine] = useState("tractor");
  const [wing, setWing] = useState("low");
  const [gear, setGear] = useState("nose wheel");
  const [tail, setTail] = useState("on the fuselage");
  const [unit, setUnit] = useState("mm");
  const [error, setError] = useState<unknown>(null);
  const make = async () => {
    try {
      const made = await got(
        api.POST("/api/aircraft", {
          body: {
            ...v,
            engine: engine as "tractor",
            wing: wing as "low",
            gear: gear as "nose wheel",
            tail: tail as "on the fuselage",
            length_unit: unit as "mm",
          },
        }),
      );
      await client.invalidateQueries({ queryKey: ["aircraft"] });
      void navigate(`/a/${made.slug}/airframe`);
    } catch (e) {
      setError(e);
    }
  };
  return (
    <Entry label="New aircraft" save={make} className="new-aircraft" button="Make it" error={error}>
      <h1>New aircraft</h1>
      <p>
        Say a few words about it. You get bays and closures to begin with, drawn in proportion; then
        drag or type each limit to what you measure.
      </p>
      <TextField label="Name" value={v.name} set={(name) => setV({ ...v, name })} />
      <div className="three">
        <Choice
          label="Engine"
          value={engine}
          set={setEngine}
          options={[
            { value: "tractor", word: "in front (tractor)" },
            { value: "pusher", word: "behind (pusher)" },
          ]}
        />
        <Choice label="Wing" value={wing} set={setWing} options={same("low", "shoulder", "high")} />
        <Choice
          label="Landing gear"
          value={gear}
          set={setGear}
          options={same("nose wheel", "tailwheel")}
        />
        <Choice
          label="Tailplane"
          value={tail}
          set={setTail}
          options={same("on the fuselage", "on the fin", "none aft")}
        />
        <TextField
          label="Length over all"
          value={v.length}
          set={(length) => setV({ ...v, length })}
        />
        <TextField label="Span" value={v.span} set={(span) => setV({ ...v, span })} />
        <Choice label="Bare lengths are in" value={unit} set={setUnit} options={same("mm", "in")} />
      </div>
    </Entry>
  );
}
