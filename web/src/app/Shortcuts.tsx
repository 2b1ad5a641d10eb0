/** Help: what this page is for, what can be typed in the bar, the keys and their switch. */
import Button from "react-bootstrap/Button";
import { useEffect, useRef, useSyncExternalStore } from "react";
import { useLocation } from "react-router";

import { useEntryExamples } from "./queries";
import { helpOf } from "./trades";

const STORE = "ashlane.keys";
const listeners = new Set<() => void>();

export function useKeysOn(): boolean {
  return useSyncExternalStore(
    (l) => {
      listeners.add(l);
      return () => listeners.delete(l);
    },
    () => localStorage.getItem(STORE) !== "off",
  );
}

function switchKeys(on: boolean): void {
  localStorage.setItem(STORE, on ? "on" : "off");
  listeners.forEach((l) => l());
}

const KEYS = [
  ["1, 2, 3, 9", "Lane, Controls, Cables, Sign-off"],
  ["[ and ]", "step along the bays (arrow keys too, on the lane)"],
  ["\\", "all bays"],
  [".", "entry bar"],
  ["Tab", "complete the name in the entry bar"],
  ["Ctrl Z", "take back the last entry, or the last edge moved"],
  ["Enter", "keep what the row understood"],
  ["Esc", "leave the row as it is"],
  ["?", "this sheet"],
];

export function Shortcuts({ slug, onClose }: { slug: string; onClose: () => void }) {
  const on = useKeysOn();
  const box = useRef<HTMLDialogElement>(null);
  useEffect(() => box.current?.showModal(), []);
  const here = helpOf(useLocation().pathname);
  const examples = useEntryExamples(slug).data?.options ?? [];
  return (
    <dialog ref={box} className="sheet-keys" onClose={onClose} aria-label="Help">
      {here && (
        <>
          <h2>{here.word}</h2>
          <p>{here.does}</p>
        </>
      )}
      <h3>The bar below</h3>
      <p>
        Readings, work, notes and jumps in one line, with this aircraft’s own names; any beginning
        of a name will do.
      </p>
      <ul>
        {examples.map((line) => (
          <li key={line}>
            <code>{line}</code>
          </li>
        ))}
      </ul>
      <h3>Keyboard</h3>
      <table>
        <tbody>
          {KEYS.map(([key, does]) => (
            <tr key={key}>
              <th scope="row">
                <kbd>{key}</kbd>
              </th>
              <td>{does}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <label className="tick">
        <input type="checkbox" checked={on} onChange={(e) => switchKeys(e.target.checked)} />
        Single keys act
      </label>
      <Button type="button" onClick={() => box.current?.close()}>
        Close
      </Button>
    </dialog>
  );
}
