/** The title of a page: what it shows, then whose it is. */
import { capital } from "../marks/words";
import { TRADES } from "./trades";

/** What stands behind a thing's name, where its page has no name of its own. */
const ENDS: Record<string, string> = { controls: "travel", cables: "cables" };

/** `path`: under the aircraft's address, such as `controls/elevator/linkage`. */
export function titleOf(path: string, aircraft: string): string {
  const [to = "", thing, part] = path.split("/").filter(Boolean);
  const word = TRADES.find((t) => t.to === to)?.word ?? "";
  if (!thing) return [word, aircraft].filter(Boolean).join(" · ");
  const name = capital(decodeURIComponent(thing).replaceAll("-", " "));
  return `${[name, part ?? ENDS[to]].filter(Boolean).join(" ")} · ${aircraft}`;
}
