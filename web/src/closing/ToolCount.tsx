/** Named tools and loose objects: what went in and what came out, for this closing. */
import Button from "react-bootstrap/Button";
import { useState } from "react";

import type { ClosureDetail } from "../app/api";
import { useWrite } from "../app/useWrite";
import { TextField } from "../kit/fields";
import { Said } from "../marks/Said";
import { Entry } from "../kit/Entry";

export function ToolCount({ gate }: { gate: ClosureDetail }) {
  const { write, error, busy } = useWrite();
  const [name, setName] = useState("");
  const [count, setCount] = useState("1");
  const put = (tool: { name: string; went_in: number; came_out: number; version?: number }) =>
    write(`closures/${gate.slug}/tools`, tool, `tool ${tool.name}`);
  const add = async () => {
    const went_in = Number(count);
    if (await put({ name, went_in, came_out: 0 })) setName("");
  };
  return (
    <>
      {gate.tools.length === 0 && (
        <p className="quiet">
          Not counted. Name each tool that goes in, and take it out again here before closing. If
          none went in, enter “none” with 0.
        </p>
      )}
      <ul className="tools">
        {gate.tools.map((t) => (
          <li key={t.id}>
            <span>
              <strong>{t.name}</strong>{" "}
              <span className="num">
                {t.came_out} of {t.went_in} out
              </span>
            </span>
            {t.came_out < t.went_in && (
              <Button
                variant="outline-primary"
                disabled={busy}
                onClick={() =>
                  void put({
                    name: t.name,
                    went_in: t.went_in,
                    came_out: t.went_in,
                    version: t.version,
                  })
                }
              >
                All out
              </Button>
            )}
          </li>
        ))}
      </ul>
      <Entry label="Tool count" save={add} button="Count in" variant="outline-primary" off={busy}>
        <TextField label="Tool or object" value={name} set={setName} hint="8 mm spanner" />
        <TextField label="How many went in" value={count} set={setCount} />
      </Entry>
      <Said error={error} />
    </>
  );
}
