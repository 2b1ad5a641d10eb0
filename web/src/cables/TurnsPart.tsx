/** What to turn and by how much; turns that nobody advised, with the thread that they leave. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import Button from "react-bootstrap/Button";

import { api, type Cables, got, type TensionToday } from "../app/api";
import { useWrite } from "../app/useWrite";
import { Entry } from "../kit/Entry";
import { Choice, TextField } from "../kit/fields";
import { number } from "../kit/numbers";
import { Said } from "../marks/Said";
import { Why } from "../marks/Why";
import { shown } from "../marks/words";
import { force } from "./units";
import { unless } from "../kit/unless";

export function TurnList(p: { cables: Cables; today: TensionToday; can: boolean }) {
  const { today: t, cables } = p;
  const { write, error, busy, pending } = useWrite();
  const turned = t.turns.filter((x) => x.turns);
  const bad = t.turns.some((x) => x.state === "bottomed" || x.state === "out");
  const record = async () => {
    const typed = Object.fromEntries(turned.map((x) => [x.side, String(x.turns)]));
    const label = `Turned ${turned.map((x) => `${x.side} ${x.turns ?? 0}`).join(", ")}`;
    const body = { doing: "turned", side: "", typed, note: "" };
    await write(`controls/${cables.control}/cables/events`, body, label);
  };
  return (
    <>
      <ul className="turns">
        {t.turns.map((x) => (
          <li key={x.side} data-turn={x.side}>
            {first(x.said)}
            <small>{x.said.slice(first(x.said).length)}</small>
          </li>
        ))}
      </ul>
      <p>
        After it about {force(t.turns[0]?.after_N, t.unit)}
        {t.shift_deg !== null && <>, the surface moves {shown(t.shift_deg, "°")}</>}.{" "}
        <Why why={t.why} text="Why these turns?" />
      </p>
      {p.can && turned.length > 0 && (
        <Button disabled={busy || pending || bad} onClick={() => void record()}>
          I have turned them: record
        </Button>
      )}
      <Said error={error} />
    </>
  );
}

/** The first sentence. */
const first = (text: string): string => /^.*?\.(?= |$)/.exec(text)?.[0] ?? text;

const STATE: Record<string, string> = {
  bottomed: ": it bottoms before that",
  out: ": too many",
};

/** The thread that would show after so many turns, by the rule. */
function useThreads(side: Cables["sides"][number] | undefined, turns: number) {
  const inputs = { showing: side?.showing, turns, limit: side?.limit };
  const found = useQuery({
    queryKey: ["threads", inputs],
    enabled: !!side?.showing && Number.isFinite(turns),
    queryFn: () =>
      got(
        api.POST("/api/rules/{rule}", {
          params: { path: { rule: "cables.turnbuckle_threads" } },
          body: inputs as unknown as Record<string, never>,
        }),
      ) as Promise<{ after: string; after_threads: number[] }>,
  });
  if (!found.data || !Number.isFinite(turns)) return null;
  const { after, after_threads: left } = found.data;
  const said = `Then ${left.map((t) => t.toFixed(1)).join(" and ")} threads show${STATE[after] ?? ""}.`;
  return { said, bad: after in STATE };
}

/** Turns that nobody advised, or only half of them. */
export function ByHand({ cables }: { cables: Cables }) {
  const [side, setSide] = useState("A");
  const [turns, setTurns] = useState("");
  const { write, error, busy, pending } = useWrite();
  const shows = useThreads(
    cables.sides.find((s) => s.side === side),
    number(turns),
  );
  const keep = async () => {
    const typed = { turns: turns.replace("−", "-") };
    const body = { doing: "turned", side, typed, note: "" };
    if (await write(`controls/${cables.control}/cables/events`, body, `Turned ${side} ${turns}`))
      setTurns(unless(turns, ""));
  };
  return (
    <details>
      <summary>I turned something else</summary>
      <Entry save={keep} button="Record" off={busy || pending} error={error}>
        <Choice
          label="Turnbuckle"
          value={side}
          set={setSide}
          options={cables.sides.map((s) => ({ value: s.side, word: s.name }))}
        />
        <TextField label="Turns, + shorter" value={turns} set={setTurns} hint="0.5" />
        {shows && (
          <p className={shows.bad ? "suspicious form-name" : "quiet form-name"}>{shows.said}</p>
        )}
      </Entry>
    </details>
  );
}
