/** The sheet of shortcuts, and the switch for the single-key ones. */
import Button from "react-bootstrap/Button";
import { useEffect, useRef, useSyncExternalStore } from "react";

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
  ["1, 2, 9", "Lane, Controls, Sign-off"],
  ["[ and ]", "step along the bays (arrow keys too, on the lane)"],
  ["\\", "all bays"],
  [".", "entry bar"],
  ["Tab", "complete the name in the entry bar"],
  ["Ctrl Z", "take back the last entry, or the last edge moved"],
  ["Enter", "keep what the row understood"],
  ["Esc", "leave the row as it is"],
  ["?", "this sheet"],
];

export function Shortcuts({ onClose }: { onClose: () => void }) {
  const on = useKeysOn();
  const box = useRef<HTMLDialogElement>(null);
  useEffect(() => box.current?.showModal(), []);
  return (
    <dialog ref={box} className="sheet-keys" onClose={onClose} aria-label="Keyboard">
      <h2>Keyboard</h2>
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
