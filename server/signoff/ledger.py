"""Writing the ledger, one writer at a time for each aircraft, and checking it whole."""

from __future__ import annotations

import json
from datetime import UTC, datetime
from typing import Any

from core.signoff import ledger as core_ledger
from core.signoff.canonical import canonical_bytes
from core.signoff.signature import Fact
from server.accounts import security
from server.accounts.models import Person
from server.aircraft.models import Aircraft
from server.signoff import facts
from server.signoff.models import FactRevision, LedgerEntry
from server.signoff.shapes import Checked, Fault, Head


def head(aircraft: Aircraft) -> Head:
    """Number and hash of the last entry; zero and 64 zeros before the first."""
    last = LedgerEntry.objects.filter(aircraft=aircraft).order_by("-seq").first()
    return Head(seq=last.seq, hash=last.hash) if last else Head(seq=0, hash=core_ledger.START)


def append(
    aircraft: Aircraft, kind: str, scope: str, by: Person, body: dict[str, Any]
) -> LedgerEntry:
    """Add an entry; the caller holds the aircraft's row lock in its transaction."""
    last = head(aircraft)
    seq = last["seq"] + 1
    security.kept(kind, person=by.slug, aircraft=aircraft.slug, scope=scope, entry=seq)
    return LedgerEntry.objects.create(
        aircraft=aircraft,
        seq=seq,
        kind=kind,
        body=canonical_bytes(body, "body").decode(),
        prev=last["hash"],
        hash=core_ledger.entry_hash(body, kind, last["hash"], seq),
        by=by,
        scope=scope,
        at=datetime.now(UTC),
    )


def check(aircraft: Aircraft, witness: dict[str, Any] | None = None) -> Checked:
    """The chain, every revision in the history, and every covered row against its history."""
    entries = list(LedgerEntry.objects.filter(aircraft=aircraft).order_by("seq"))
    faults = _chain_faults(entries, witness)
    revisions = list(FactRevision.objects.filter(aircraft=aircraft))
    faults += _history_faults(revisions)
    faults += _covered_faults(entries, revisions)
    faults += _row_faults(aircraft, revisions)
    return Checked(
        ok=not faults,
        entries=len(entries),
        facts=len(revisions),
        head=head(aircraft),
        faults=faults,
    )


def _chain_faults(entries: list[LedgerEntry], witness: dict[str, Any] | None) -> list[Fault]:
    plain = []
    for e in entries:
        body = _loaded(e.body)
        # The text itself is what was hashed: another spelling of the same value is a change.
        same = body is not None and canonical_bytes(body, "body").decode() == e.body
        shown = body if same else {"altered": e.body}
        plain.append({"body": shown, "kind": e.kind, "prev": e.prev, "seq": e.seq, "hash": e.hash})
    found = core_ledger.verify(plain, witness)
    faults = []
    if not found.ok:
        faults.append(Fault(where=f"ledger entry {found.seq}", fault=str(found.fault)))
    for e in entries:
        body = _loaded(e.body) or {}
        if body.get("scope") != e.scope or body.get("by") != e.by.slug:
            faults.append(
                Fault(where=f"ledger entry {e.seq}", fault="its row does not match its body")
            )
    return faults


def _history_faults(revisions: list[FactRevision]) -> list[Fault]:
    faults = []
    for r in revisions:
        v = _loaded(r.v)
        if v is None or Fact(r.fact, r.rev, v).hash != r.hash or canonical_bytes(v).decode() != r.v:
            faults.append(Fault(where=f"history of {r.fact} rev {r.rev}", fault="altered"))
    return faults


def _covered_faults(entries: list[LedgerEntry], revisions: list[FactRevision]) -> list[Fault]:
    known = {(r.fact, r.hash) for r in revisions}
    faults = []
    for e in entries:
        for f in (_loaded(e.body) or {}).get("facts", []):
            if (f["id"], f["hash"]) not in known:
                where = f"history of {f['id']} signed in entry {e.seq}"
                faults.append(Fault(where=where, fault="missing or altered"))
    return faults


def _row_faults(aircraft: Aircraft, revisions: list[FactRevision]) -> list[Fault]:
    """Rows that do not say what their last revision says were changed outside the app."""
    latest: dict[str, FactRevision] = {}
    by_rev = {(r.fact, r.rev): r for r in revisions}
    for r in revisions:
        if r.fact not in latest or latest[r.fact].rev < r.rev:
            latest[r.fact] = r
    faults = []
    for kind in facts.kinds():
        for values in kind.today(aircraft).values():
            faults += [f for i, v in values if (f := _differs(i, v, latest.get(i)))]
        for fact, rev, v in kind.earlier(aircraft):
            found = _differs(fact, v, by_rev.get((fact, rev)))
            faults += [found] if found else []
    return list({(f["where"], f["fault"]): f for f in faults}.values())


def _differs(fact: str, v: Any, revision: FactRevision | None) -> Fault | None:
    if revision is None:
        return Fault(where=fact, fault="is not in the history")
    if canonical_bytes(v).decode() == revision.v:
        return None
    was, now = _loaded(revision.v) or {}, v
    fields = [k for k in sorted({*was, *now}) if was.get(k) != now.get(k)]
    said = "; ".join(f"{k}: {was.get(k)} → {now.get(k)}" for k in fields)
    return Fault(where=fact, fault=f"changed outside the application ({said})")


def _loaded(text: str) -> Any:
    try:
        return json.loads(text)
    except ValueError:
        return None
