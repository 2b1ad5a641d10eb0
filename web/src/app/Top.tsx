/** The bar of pages that belong to no aircraft, and the person's own corner. */
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";

import { api, got, type Session, setToken } from "./api";
import { plural } from "../marks/words";
import { emptied, unsentOf } from "./outbox";
import { chooseTheme, theme } from "./theme";

export function Corner({ session }: { session: Session }) {
  const client = useQueryClient();
  const [now, setNow] = useState(theme());
  const other = now === "dark" ? "light" : "dark";
  const [asking, setAsking] = useState(0);
  const signOut = async (sure = false) => {
    const left = unsentOf(session.username);
    if (left > 0 && !sure) return setAsking(left);
    const after = await got(api.DELETE("/api/session"));
    emptied();
    setAsking(0);
    setToken(after.csrf);
    client.removeQueries({ predicate: (q) => q.queryKey[0] !== "session" });
    client.setQueryData(["session"], after);
  };
  return (
    <nav className="corner" aria-label="Other pages">
      <Link to="/rules">Rule book</Link>
      <button
        type="button"
        className="plain"
        onClick={() => {
          chooseTheme(other);
          setNow(other);
        }}
      >
        {other === "dark" ? "Dark" : "Light"}
      </button>
      {asking > 0 && (
        <span role="alert">
          {plural(asking, "entry", "entries")} not sent yet.{" "}
          <button type="button" className="plain" onClick={() => void signOut(true)}>
            Discard and sign out
          </button>{" "}
          <button type="button" className="plain" onClick={() => setAsking(0)}>
            Stay
          </button>
        </span>
      )}
      {session.signed_in ? (
        <button type="button" className="plain" onClick={() => void signOut()}>
          Sign out <span className="who">{session.name.split(" ")[0]}</span>
        </button>
      ) : (
        <Link to="/">Sign in</Link>
      )}
    </nav>
  );
}

export function Top({ session, children }: { session: Session; children: React.ReactNode }) {
  return (
    <>
      <header className="top">
        <Link to="/" className="brand">
          Ash Lane
        </Link>
        <Corner session={session} />
      </header>
      <main className="page">{children}</main>
    </>
  );
}
