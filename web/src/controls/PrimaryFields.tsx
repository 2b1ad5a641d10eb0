/** Is it a primary control? What is asked of its cables hangs on it; that it is not has a reason. */
import { Choice, TextField } from "../kit/fields";

type Said = { primary: boolean; reason: string };

export function PrimaryFields(p: Said & { set: (part: Partial<Said>) => void }) {
  return (
    <>
      <Choice
        label="It counts as"
        value={p.primary ? "yes" : "no"}
        set={(v) => p.set({ primary: v === "yes" })}
        options={[
          { value: "yes", word: "a primary control" },
          { value: "no", word: "no primary control" },
        ]}
      />
      {!p.primary && (
        <TextField
          sentence
          label="Why it is not"
          value={p.reason}
          set={(reason) => p.set({ reason })}
        />
      )}
      <p className="quiet form-name">
        Unless a reason says otherwise every control counts as primary: no cable under 1/8 in is
        then allowed (14 CFR 23.689; confirm against the current edition).
      </p>
    </>
  );
}
