"""Who may sign what, and signing."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Any

from core.basis.refused import Refused
from core.signoff.dual import Dual, Signed, dual_inspection
from core.signoff.gate import LEAST_REASON
from core.signoff.signature import signature_body
from server.aircraft.access import may
from server.aircraft.models import Member
from server.signoff.changes import entries_shown
from server.signoff.facts import facts_now, seen
from server.signoff.ledger import append, head
from server.signoff.models import LedgerEntry
from server.signoff.scope import Scope
from server.signoff.shapes import EntryShown, SignState

STATEMENTS = {
    "done": "I did this work and measured it as recorded; it is free and correct.",
    "inspected": "I inspected it independently; it is free and correct.",
    "refuse": "I looked at it and do not sign.",
}


def state(who: Member, scope: Scope) -> SignState:
    """Signatures on this scope, what this member may do, and the dual inspection."""
    rows = list(
        LedgerEntry.objects.filter(aircraft=who.aircraft, scope=scope.name)
        .select_related("by")
        .order_by("seq")
    )
    entries = entries_shown(who.aircraft, rows)
    done = [e for e in entries if e["kind"] == "signature" and e["fresh"]]
    can = [d for d in ("done", "inspected", "refuse") if not _not_allowed(who, scope, d, done)]
    reasons = _not_ready(scope)
    dual = _dual(scope, done)
    return SignState(
        scope=scope.name,
        entries=entries,
        can=[c for c in can if c == "refuse" or not reasons],  # type: ignore[misc]
        why_not=reasons or ([] if can else [_not_allowed(who, scope, "inspected", done)]),
        dual_ok=dual.ok,
        dual="Two persons have signed, one independent of the work."
        if dual.ok
        else str(dual.reason),
        head=head(who.aircraft),
        seen=seen(who.aircraft, scope.name),
    )


def sign(who: Member, scope: Scope, doing: str, statement: str, reason: str) -> LedgerEntry:
    """Sign (or refuse) this scope; the caller has checked the password and holds the lock."""
    current = state(who, scope)
    done = [e for e in current["entries"] if e["kind"] == "signature" and e["fresh"]]
    forbidden = _not_allowed(who, scope, doing, done)
    if forbidden:
        raise Refused("sign", forbidden)
    if doing == "refuse":
        if len(reason.strip()) < LEAST_REASON:
            raise Refused("reason", f"say why, in {LEAST_REASON} characters or more")
    elif current["why_not"]:
        raise Refused("sign", current["why_not"][0])
    body: dict[str, Any] = signature_body(
        facts_now(who.aircraft, scope.name),
        scope.name,
        who.person.slug,
        {"done": "builder", "inspected": "independent", "refuse": "independent"}[doing],
        datetime.now(UTC).strftime("%Y-%m-%dT%H:%M:%SZ"),
        statement.strip() or STATEMENTS[doing],
    )
    if doing == "refuse":
        body["reason"] = reason.strip()
    kind = "refusal" if doing == "refuse" else "signature"
    return append(who.aircraft, kind, scope.name, who.person, body)


def _not_ready(scope: Scope) -> list[str]:
    """Why nobody can sign this now."""
    return list(scope.not_ready)


def _not_allowed(who: Member, scope: Scope, doing: str, done: list[EntryShown]) -> str:
    """Why this member cannot do that; empty if they can."""
    me = who.person.slug
    if doing == "done":
        if not may(who, "sign done"):
            return "Only the builder signs as done."
        return "You have signed this already." if _signed(done, me) else ""
    if not may(who, "inspect"):
        if who.role == "owner":
            return "An inspector must be someone else: you did this work."
        return "Only a counselor, or a helper named second inspector, signs as inspector."
    if me in scope.workers or any(e["person"] == me and e["role"] == "builder" for e in done):
        return "You did some of this work: an independent person must inspect it."
    if doing == "inspected" and _signed(done, me):
        return "You have signed this already."
    return ""


def _signed(done: list[EntryShown], person: str) -> bool:
    return any(e["person"] == person for e in done)


def _dual(scope: Scope, done: list[EntryShown]) -> Dual:
    if not scope.workers or scope.work_done_at is None:
        return Dual(False, "nothing has been measured yet")
    signed = [
        Signed(e["person"], datetime.fromisoformat(e["at"].replace("Z", "+00:00"))) for e in done
    ]
    return dual_inspection(signed, scope.workers, scope.work_done_at.replace(microsecond=0))
