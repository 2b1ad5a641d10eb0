/** What a trade's page is made of, one of them open. */
import { Link } from "react-router";

export function Parts(p: {
  label: string;
  all: readonly (readonly [to: string, word: string])[];
  now: string;
}) {
  return (
    <nav className="control-sides line-parts" aria-label={p.label}>
      {p.all.map(([to, word]) => (
        <Link
          key={to}
          to={to ? `?part=${to.replaceAll(" ", "-")}` : "?"}
          aria-current={to === p.now ? "page" : undefined}
        >
          {word}
        </Link>
      ))}
    </nav>
  );
}
