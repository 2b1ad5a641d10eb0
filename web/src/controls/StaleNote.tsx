/** Above everything: the last signature no longer covers what is here, and what changed. */
import { useSignatures } from "../app/queries";
import { VerdictMark } from "../marks/VerdictMark";
import { plain } from "../marks/words";

export function StaleNote({ slug, control }: { slug: string; control: string }) {
  const signed = useSignatures(slug, `control:${control}`);
  const last = signed.data?.entries.filter((e) => e.kind === "signature").at(-1);
  if (!last || last.fresh) return null;
  const told = last.changes.flatMap((c) =>
    c.fields
      .filter((f) => ["as_typed", "asked", "number", "must_be_seen"].includes(f.field))
      .map((f) => `${c.name}, ${plain(f.field)} ${f.was || "nothing"} → ${f.now || "nothing"}`),
  );
  return (
    <p className="stale-note" role="status">
      <VerdictMark verdict="stale" word /> {last.name} signed, then it changed
      {told.length > 0 ? `: ${told.slice(0, 2).join("; ")}` : ""}
      {told.length > 2 ? ` and ${told.length - 2} more` : ""}. It needs both signatures again.
    </p>
  );
}
