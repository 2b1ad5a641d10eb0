/** Three questions at the bench: which bolt, must it turn or clamp, what is the wrench set to. */
import Button from "react-bootstrap/Button";
import { useState } from "react";
import { useOutletContext } from "react-router";

import { api, type Computed, got, type Verdict } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { useStock } from "../app/queries";
import { Choice, Fields, same, TextField } from "../kit/fields";
import { Caution, Said } from "../marks/Said";
import { VerdictMark } from "../marks/VerdictMark";
import { Why } from "../marks/Why";
import { Entry } from "../kit/Entry";

type Tool = "bolt" | "fit" | "wrench";

export function Calculators({ tool }: { tool: Tool }) {
  if (tool === "bolt") return <WhichBolt />;
  return tool === "fit" ? <FitCheck /> : <WrenchSetting />;
}

function useAsk() {
  const [found, setFound] = useState<Computed | null>(null);
  const [error, setError] = useState<unknown>(null);
  const ask = (answer: Promise<Computed>) =>
    answer
      .then((c) => {
        setFound(c);
        setError(null);
      })
      .catch((e: unknown) => {
        setFound(null);
        setError(e);
      });
  return { found, error, ask };
}

function Found({ found, error }: { found: Computed | null; error: unknown }) {
  return (
    <div role="status">
      <Said error={error} />
      {found && (
        <>
          {typeof found.outputs.verdict === "string" && (
            <VerdictMark verdict={found.outputs.verdict as Verdict} big />
          )}
          <p className="answer">{found.said}</p>
          <Why why={{ rule: found.rule, inputs: found.inputs }} />
        </>
      )}
    </div>
  );
}

function WhichBolt() {
  const { aircraft } = useOutletContext<FrameContext>();
  const stock = useStock(aircraft.slug);
  const [layers, setLayers] = useState("");
  const [tol, setTol] = useState("");
  const nuts = stock.data?.results.filter((s) => s.kind === "nut") ?? [];
  const [nut, setNut] = useState<string | null>(null);
  const { found, error, ask } = useAsk();
  const chosen = nut ?? String(nuts[0]?.id ?? "");
  return (
    <Entry
      label="Which bolt"
      save={() =>
        void ask(
          got(
            api.POST("/api/aircraft/{slug}/bolt-choice", {
              params: { path: { slug: aircraft.slug } },
              body: { layers, stack_tol: tol, nut: Number(chosen) },
            }),
          ),
        )
      }
      className=""
    >
      <h2>Which stocked bolt, which washers?</h2>
      <TextField
        label={`Layers as measured, ${aircraft.length_unit}, parted by ;`}
        value={layers}
        set={setLayers}
        hint="3.2; 6.1; 3.2"
      />
      <TextField label="± tolerance of the stack" value={tol} set={setTol} hint="0.1" />
      <Choice
        label="Nut"
        value={chosen}
        set={setNut}
        options={nuts.map((n) => ({ value: String(n.id), word: `${n.name} (${n.thread})` }))}
      />
      {stock.data && nuts.length === 0 && <p>No nut is in stock: enter one under Stock first.</p>}
      <Button type="submit">Choose</Button>
      <Found found={found} error={error} />
      <Caution>
        A nut that stops on the shank feels tight and clamps nothing. Look for the shank, count the
        threads.
      </Caution>
    </Entry>
  );
}

const SIZES = [
  ["hole", "Hole, several places, parted by ;", "12.700; 12.705"],
  ["shaft", "Shaft or bushing, several places", "12.715; 12.718"],
  ["u_hole", "Uncertainty of the hole", "0.002 mm"],
  ["u_shaft", "Uncertainty of the shaft", "0.002 mm"],
  ["clear_min", "Maker’s least clearance", "0.013"],
  ["clear_max", "Maker’s greatest clearance", "0.060"],
] as const;

function FitCheck() {
  const { aircraft } = useOutletContext<FrameContext>();
  const [v, setV] = useState({
    hole: "",
    shaft: "",
    u_hole: "",
    u_shaft: "",
    clear_min: "",
    clear_max: "",
  });
  const [need, setNeed] = useState("turn");
  const { found, error, ask } = useAsk();
  return (
    <Entry
      label="Must turn or clamp"
      save={() => {
        const body = { ...v, need: need as "turn" | "slip" | "press" };
        void ask(
          got(
            api.POST("/api/aircraft/{slug}/fit-check", {
              params: { path: { slug: aircraft.slug } },
              body,
            }),
          ),
        );
      }}
      className=""
    >
      <h2>Must it turn or clamp?</h2>
      <Choice
        label="It must"
        value={need}
        set={setNeed}
        options={[
          { value: "turn", word: "turn" },
          { value: "slip", word: "slide" },
          { value: "press", word: "clamp (pressed in)" },
        ]}
      />
      <Fields of={SIZES} values={v} set={setV} />
      <Button type="submit">Check the fit</Button>
      <Found found={found} error={error} />
      <Caution>
        It must turn. Do not press it in: ream or polish first, then try it by hand. Which part
        turns on which is a fact of the drawing.
      </Caution>
    </Entry>
  );
}

const ASKED = [
  ["torque", "Range from your document", "50 to 70 in-lb"],
  ["thread", "Or thread, for the shipped table", "1/4-28"],
] as const;
const WRENCH = [
  ["drag", "Drag of the nut before it seats", "0.9 Nm"],
  ["wrench", "Wrench: drive to hand", "280 mm"],
  ["extension", "Extension across the drive", "50 mm"],
  ["angle", "Its angle to the wrench", "0°"],
] as const;

function WrenchSetting() {
  const { aircraft } = useOutletContext<FrameContext>();
  const [v, setV] = useState({
    thread: "",
    torque: "",
    drag: "",
    wrench: "",
    extension: "",
    angle: "",
  });
  const [type, setType] = useState("tension");
  const { found, error, ask } = useAsk();
  return (
    <Entry
      label="Wrench setting"
      save={() => {
        const body = { ...v, nut_type: type as "tension" | "shear" };
        void ask(
          got(
            api.POST("/api/aircraft/{slug}/wrench-setting", {
              params: { path: { slug: aircraft.slug } },
              body,
            }),
          ),
        );
      }}
      className=""
    >
      <h2>What is the wrench set to?</h2>
      <Fields of={ASKED} values={v} set={setV} />
      <Choice label="Nut loaded in" value={type} set={setType} options={same("tension", "shear")} />
      <Fields of={WRENCH} values={v} set={setV} />
      <Button type="submit">Set</Button>
      <Found found={found} error={error} />
      <p className="quiet">
        Shipped table: AC 43.13-1B Table 7-1, fine thread, oil-free cadmium plate. Confirm against
        the current edition; the kit maker’s value comes first.
      </p>
    </Entry>
  );
}
