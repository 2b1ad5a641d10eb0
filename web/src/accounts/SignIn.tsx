import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";

import { api, got, type Session, setToken } from "../app/api";
import { Entry } from "../kit/Entry";

export function SignIn({ session }: { session: Session }) {
  const client = useQueryClient();
  const [username, setUsername] = useState("");
  const [password, setPassword] = useState("");
  const [error, setError] = useState<unknown>(null);
  const [busy, setBusy] = useState(false);
  const signIn = async (who: { username: string; password: string }) => {
    setBusy(true);
    setError(null);
    try {
      const after = await got(
        api.POST("/api/session", { body: { username: who.username, password: who.password } }),
      );
      setToken(after.csrf);
      client.removeQueries({ predicate: (q) => q.queryKey[0] !== "session" });
      client.setQueryData(["session"], after);
    } catch (e) {
      setError(e);
      setBusy(false);
    }
  };
  return (
    <main className="signin">
      <h1 className="brand">Ash Lane</h1>
      <p className="lead">
        Rigging bench and sign-off ledger of one kit aircraft: measure, know, mend, sign.
      </p>
      <Entry
        save={() => void signIn({ username, password })}
        className=""
        button="Sign in"
        off={busy}
        error={error}
      >
        <label>
          Name
          <input
            className="form-control"
            autoComplete="username"
            value={username}
            onChange={(e) => setUsername(e.target.value)}
          />
        </label>
        <label>
          Password
          <input
            className="form-control"
            type="password"
            autoComplete="current-password"
            value={password}
            onChange={(e) => setPassword(e.target.value)}
          />
        </label>
      </Entry>
      {session.demo_people.length > 0 && (
        <section aria-label="The demo's people">
          <h2>The demo's people</h2>
          <p className="quiet">One click signs in. Signing a sheet still asks for the password.</p>
          <ul className="people">
            {session.demo_people.map((p) => (
              <li key={p.username}>
                <button type="button" disabled={busy} onClick={() => void signIn(p)}>
                  <strong>{p.name}</strong>
                  <span>{p.situation}</span>
                </button>
                <code>{p.password}</code>
              </li>
            ))}
          </ul>
        </section>
      )}
      <p>
        <Link to="/rules">Rule book</Link>: compute without an aircraft.
      </p>
    </main>
  );
}
