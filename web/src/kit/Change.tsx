/** The small word beside a row that opens what corrects it, and closes it again. */
export function Change(p: {
  /** What it corrects, by its name. */
  name: string;
  open: boolean;
  set: (open: boolean) => void;
}) {
  return (
    <button
      type="button"
      className="plain"
      aria-label={p.open ? `Leave ${p.name} as it is` : `Change ${p.name}`}
      onClick={() => p.set(!p.open)}
    >
      {p.open ? "Leave as it is" : "Change"}
    </button>
  );
}
