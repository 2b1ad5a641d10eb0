/** Is it a primary control? What is asked of its cables hangs on it; that it is not has a reason. */
import { useState } from "react";
import { useOutletContext } from "react-router";

import type { Sheet } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { useWrite } from "../app/useWrite";
import { Choice, TextField } from "../kit/fields";
import { Entry } from "../kit/Entry";

export function PrimaryForm({ sheet }: { sheet: Sheet }) {
  const { aircraft } = useOutletContext<FrameContext>();
  const { write, error, busy, pending } = useWrite();
  const [primary, setPrimary] = useState(sheet.primary);
  const [reason, setReason] = useState(sheet.primary_reason);
  const now = sheet.primary
    ? "Counts as a primary control."
    : `Does not count as a primary control: ${sheet.primary_reason}`;
  const why =
    "Unless a reason says otherwise every control counts as primary: no cable under 1/8 in is then" +
    " allowed (14 CFR 23.689; confirm against the current edition).";
  return (
    <div className="primary-form">
      <p>{now}</p>
      <p className="quiet">{why}</p>
      {aircraft.may.includes("change facts") && (
        <Entry
          save={() => {
            const body = { version: sheet.version, primary, reason };
            void write(`controls/${sheet.slug}`, body, `${sheet.name}: kind`, "PATCH");
          }}
          button="Keep"
          off={busy || pending}
          error={error}
        >
          <Choice
            label={sheet.name}
            value={primary ? "yes" : "no"}
            set={(v) => setPrimary(v === "yes")}
            options={[
              { value: "yes", word: "is a primary control" },
              { value: "no", word: "is not" },
            ]}
          />
          {!primary && <TextField label="Why it is not" value={reason} set={setReason} />}
        </Entry>
      )}
    </div>
  );
}
