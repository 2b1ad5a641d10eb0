/** Who may do what here: roles, invitations by a link that works once, and leaving. */
import { useState } from "react";
import { useNavigate, useOutletContext } from "react-router";

import { AircraftTabs } from "../aircraft/AircraftTabs";
import { api, got, type People } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { usePeople, useRefresh } from "../app/queries";
import { useWrite } from "../app/useWrite";
import { Entry } from "../kit/Entry";
import { Choice, same, TextField, Tick } from "../kit/fields";
import { Said, Waiting } from "../marks/Said";
import { when } from "../marks/words";
import { PasswordForm } from "./PasswordForm";
import "./people.css";

type Role = "owner" | "helper" | "counselor" | "reader";
const ROLES = same("owner", "helper", "counselor", "reader");
const CAN: Record<Role, string> = {
  owner: "measures, changes what is asked, closes, signs as the builder",
  helper: "measures and does work; as second inspector signs what others did",
  counselor: "checks, raises findings, signs as independent inspector",
  reader: "reads everything and writes nothing",
};

export function PeoplePage() {
  const { aircraft } = useOutletContext<FrameContext>();
  const people = usePeople(aircraft.slug);
  if (!people.data) return <Waiting error={people.error} />;
  const owner = aircraft.may.includes("change facts");
  return (
    <>
      <AircraftTabs />
      <div className="page-in people-page">
        <h1>People</h1>
        <ul className="rows">
          {people.data.results.map((p) => (
            <Row
              key={`${p.person} ${p.role} ${p.second_inspector}`}
              p={p}
              you={people.data.you}
              owner={owner}
            />
          ))}
        </ul>
        {people.data.results.length === 1 && (
          <p>
            A second person checks flight controls before flight: invite a helper as second
            inspector, or a counselor.
          </p>
        )}
        {owner && <Invite />}
        {owner && <Open people={people.data} />}
        <PasswordForm />
      </div>
    </>
  );
}

function Row({ p, you, owner }: { p: People["results"][number]; you: string; owner: boolean }) {
  const [open, setOpen] = useState(false);
  const mine = p.person === you;
  return (
    <li>
      <strong>
        {p.name}
        {mine && " (you)"}
      </strong>
      <span>
        {p.role}
        {p.second_inspector && ", second inspector"}
        <span className="quiet">: {CAN[p.role as Role]}</span>
      </span>
      {(owner || mine) && (
        <button
          type="button"
          className="plain"
          aria-label={`${open ? "Leave as it is" : "Change"}: ${p.name}`}
          onClick={() => setOpen(!open)}
        >
          {open ? "Leave as it is" : "Change"}
        </button>
      )}
      {open && (
        <div className="wide-form">
          {owner && <RoleForm p={p} />}
          <EndForm p={p} mine={mine} />
        </div>
      )}
    </li>
  );
}

function RoleForm({ p }: { p: People["results"][number] }) {
  const { write, error, busy } = useWrite();
  const [role, setRole] = useState(p.role as Role);
  const [second, setSecond] = useState(p.second_inspector);
  const keep = () => {
    const body = { was: p.role, role, second_inspector: role === "helper" && second };
    return write(`people/${p.person}`, body, `role of ${p.name}`, "PATCH");
  };
  return (
    <Entry label={`Role of ${p.name}`} save={keep} button="Keep" off={busy} error={error}>
      <Choice label="Role" value={role} set={(r) => setRole(r as Role)} options={ROLES} />
      {role === "helper" && <Tick label="Second inspector" value={second} set={setSecond} />}
    </Entry>
  );
}

function EndForm({ p, mine }: { p: People["results"][number]; mine: boolean }) {
  const { write, error, busy } = useWrite();
  const navigate = useNavigate();
  const [reason, setReason] = useState("");
  const word = mine ? "Leave this aircraft" : "End this role";
  const end = async () => {
    const gone = await write(`people/${p.person}/end`, { reason }, `${word}: ${p.name}`);
    if (gone && mine) void navigate("/");
  };
  return (
    <Entry
      label={`${word}: ${p.name}`}
      save={end}
      button={word}
      variant="outline-primary"
      off={busy || !reason.trim()}
      error={error}
    >
      <TextField sentence label="Why" value={reason} set={setReason} />
      <p className="quiet form-name">What was measured, done and signed stays in the record.</p>
    </Entry>
  );
}

function Invite() {
  const { aircraft } = useOutletContext<FrameContext>();
  const refresh = useRefresh(aircraft.slug);
  const [role, setRole] = useState<Role>("helper");
  const [second, setSecond] = useState(false);
  const [link, setLink] = useState("");
  const [error, setError] = useState<unknown>(null);
  const [busy, setBusy] = useState(false);
  const invite = async () => {
    setBusy(true);
    try {
      // Not through the outbox: the answer holds the link, which is told this once.
      const made = await got(
        api.POST("/api/aircraft/{slug}/people/invitations", {
          params: { path: { slug: aircraft.slug } },
          body: { role, second_inspector: role === "helper" && second },
        }),
      );
      setLink(window.location.origin + made.link);
      setError(null);
    } catch (e) {
      setError(e);
    }
    setBusy(false);
    await refresh();
  };
  return (
    <>
      <h2>Invite someone</h2>
      <Entry label="Invite" save={invite} button="Make a link" off={busy} error={error}>
        <Choice label="As" value={role} set={(r) => setRole(r as Role)} options={ROLES} />
        {role === "helper" && <Tick label="Second inspector" value={second} set={setSecond} />}
        <p className="quiet form-name">
          {role === "owner" ? "An" : "A"} {role} {CAN[role]}.
        </p>
      </Entry>
      {link && (
        <div className="made-link" role="status">
          <p>
            Send this link to whom it is for. It works once, within 14 days, and is shown only now.
          </p>
          <input
            className="form-control"
            readOnly
            aria-label="The link"
            value={link}
            onFocus={(e) => e.target.select()}
          />
          <button
            type="button"
            className="plain"
            onClick={() => void navigator.clipboard.writeText(link)}
          >
            Copy
          </button>
        </div>
      )}
    </>
  );
}

function Open({ people }: { people: People }) {
  const { write, error, busy } = useWrite();
  if (people.invitations.length === 0) return null;
  return (
    <>
      <h2>Open invitations</h2>
      <ul className="rows">
        {people.invitations.map((i) => (
          <li key={i.id}>
            <strong>
              {i.role}
              {i.second_inspector && ", second inspector"}
            </strong>
            <span className="quiet">
              made by {i.made_by}, works until {when(i.expires_at)}
            </span>
            <button
              type="button"
              className="plain"
              disabled={busy}
              onClick={() =>
                void write(
                  `people/invitations/${i.id}/withdraw` as const,
                  {},
                  "withdraw invitation",
                )
              }
            >
              Withdraw
            </button>
          </li>
        ))}
      </ul>
      <Said error={error} />
    </>
  );
}
