/** "Why this number?": a link into the rule book with the very inputs that gave it. */
import { Link } from "react-router";

type Reason = { rule: string; inputs: Record<string, unknown> };

export function Why({ why, text }: { why: Reason | null; text?: string }) {
  if (!why) return null;
  const inputs = encodeURIComponent(JSON.stringify(why.inputs));
  return (
    <Link className="why" to={`/rules/${why.rule}?inputs=${inputs}`}>
      {text ?? "Why this number?"}
    </Link>
  );
}
