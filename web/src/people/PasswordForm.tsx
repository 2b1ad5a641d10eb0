/** One's own password: the old one first; every other session ends. */
import { useState } from "react";

import { api, got, setToken } from "../app/api";
import { Entry } from "../kit/Entry";
import { TextField } from "../kit/fields";

export function PasswordForm() {
  const [old, setOld] = useState("");
  const [fresh, setFresh] = useState("");
  const [error, setError] = useState<unknown>(null);
  const [done, setDone] = useState(false);
  const change = async () => {
    setDone(false);
    try {
      const after = await got(api.POST("/api/session/password", { body: { old, new: fresh } }));
      setToken(after.csrf);
      setError(null);
      setDone(true);
      setFresh("");
    } catch (e) {
      setError(e);
    }
    setOld("");
  };
  return (
    <details>
      <summary>Change your password</summary>
      <Entry
        label="Password"
        save={change}
        button="Change it"
        variant="outline-primary"
        off={!old || !fresh}
        error={error}
      >
        <TextField label="As it is" type="password" value={old} set={setOld} />
        <TextField
          label="New, 10 characters or more"
          type="password"
          value={fresh}
          set={setFresh}
        />
        {done && (
          <p role="status" className="form-name">
            Changed. You are signed out everywhere else.
          </p>
        )}
      </Entry>
    </details>
  );
}
