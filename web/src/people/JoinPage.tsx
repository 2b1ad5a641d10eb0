/** A link that works once: what it offers, and using it, with an account or for a new one. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate, useParams } from "react-router";

import { api, got, type Session, setToken } from "../app/api";
import { Entry } from "../kit/Entry";
import { TextField } from "../kit/fields";
import { Said } from "../marks/Said";

const EMPTY = { name: "", username: "", password: "" };

export function JoinPage({ session }: { session: Session }) {
  const { token = "" } = useParams();
  const client = useQueryClient();
  const navigate = useNavigate();
  const [v, setV] = useState(EMPTY);
  const [error, setError] = useState<unknown>(null);
  const [busy, setBusy] = useState(false);
  const offer = useQuery({
    queryKey: ["join", token],
    retry: false,
    queryFn: () => got(api.GET("/api/join/{token}", { params: { path: { token } } })),
  });
  const join = async () => {
    setBusy(true);
    try {
      const made = await got(
        api.POST("/api/join/{token}", { params: { path: { token } }, body: v }),
      );
      setToken(made.session.csrf);
      client.removeQueries({ predicate: (q) => q.queryKey[0] !== "session" });
      client.setQueryData(["session"], made.session);
      void navigate(made.aircraft ? `/a/${made.aircraft}` : "/");
    } catch (e) {
      setError(e);
      setBusy(false);
    }
  };
  const o = offer.data;
  return (
    <main className="signin">
      <h1 className="brand">Ash Lane</h1>
      {offer.error && (
        <>
          <Said error={offer.error} />
          <Link to="/">Sign in</Link>
        </>
      )}
      {o && (
        <>
          <p className="lead">
            {o.aircraft ? (
              <>
                {o.made_by} invites you to <strong>{o.aircraft}</strong> as {o.role}
                {o.second_inspector && ", second inspector"}.
              </>
            ) : (
              "Make your account."
            )}
          </p>
          <Entry
            label="Join"
            className=""
            save={join}
            button={session.signed_in ? `Join as ${session.name}` : "Make the account"}
            off={busy}
            error={error}
          >
            {!session.signed_in && (
              <>
                <TextField
                  label="Your name, as it stands under what you sign"
                  value={v.name}
                  set={(name) => setV({ ...v, name })}
                />
                <TextField
                  label="Name to sign in with"
                  value={v.username}
                  set={(username) => setV({ ...v, username })}
                />
                <TextField
                  label="Password, 10 characters or more"
                  type="password"
                  value={v.password}
                  set={(password) => setV({ ...v, password })}
                />
                <p className="quiet">
                  Have an account already? Sign in first, then open this link again.
                </p>
              </>
            )}
          </Entry>
        </>
      )}
    </main>
  );
}
