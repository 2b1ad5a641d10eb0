"""The inspection of a bay before it is closed: a scope of its own that can be signed."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Any

from django.db import transaction
from django.db.models import Count, Q

from server.aircraft.models import Aircraft, Bay, Member
from server.closing.models import ClosureEvent
from server.hardware.models import Joint
from server.journal.models import Change
from server.journal.writing import after
from server.kit.models import Check
from server.kit.removing import also_stands, counted
from server.kit.standing import of_subjects
from server.record.models import Finding, LooseEnd
from server.signoff import facts, scopes
from server.signoff.models import LedgerEntry, ScopeState
from server.signoff.scope import Scope

PREFIX = "bay:"
# Kinds of change that alter nothing of what a bay's inspection covers.
NOT_OF_A_BAY = {"reading"}


def values(aircraft: Aircraft, bay: Bay) -> list[tuple[str, Any]]:
    """What is covered: joints as secured and judged, loose ends, findings, re-openings."""
    covered: list[tuple[str, Any]] = []
    joints = list(Joint.objects.filter(bay=bay).order_by("id"))
    kept = of_subjects(aircraft.pk, "joints", [j.slug for j in joints])
    for j in joints:
        covered.append((f"joint/{j.slug}", _joint(j, kept.get(j.slug, []))))
    for e in LooseEnd.objects.filter(bay=bay, ended_at__isnull=True):
        covered.append((f"loose end/{e.pk}", {"name": e.what, "until": e.ends_with}))
    for f in Finding.objects.filter(bay=bay, closed_at__isnull=True):
        covered.append((f"finding/{f.pk}", {"name": f.text, "answer": f.answer}))
    closures = bay.closures.annotate(n=Count("events", filter=Q(events__doing="opened")))
    for c in closures:
        value = {"name": c.name, "opened again": str(c.n)}
        covered.append((f"closure/{bay.slug}/{c.slug}", value))
    return covered


def _joint(j: Joint, checks: list[Check]) -> dict[str, Any]:
    return {
        "name": j.name,
        "state": j.state,
        "why": "; ".join(j.why),
        "verdict": j.verdict,
        "torqued at": j.torqued_at.strftime("%Y-%m-%dT%H:%M:%SZ") if j.torqued_at else "",
        "checks": {c.key: c.said for c in checks if c.quiet},
    }


def keep(aircraft: Aircraft, bay: Bay) -> None:
    """Write revisions of what changed in the bay, in the caller's transaction."""
    facts.keep(aircraft, f"{PREFIX}{bay.slug}", values(aircraft, bay))


def _lock(aircraft: Aircraft) -> None:
    """One writer of an aircraft's revisions of bays at a time; after any control or joint."""
    Aircraft.objects.select_for_update().get(pk=aircraft.pk)


@also_stands
def signed(kind: str, row: Any) -> Iterable[str]:
    """A bay that was signed, and a closure that was overridden, stay."""
    if kind in ("bay", "closure"):
        entries = LedgerEntry.objects.filter(aircraft=row.aircraft_id, scope=f"{kind}:{row.slug}")
        yield from counted(entries.count(), "entry of the ledger", "entries of the ledger")


@after
def followed(aircraft: Aircraft, kind: str, bays: Sequence[str]) -> None:
    """After a change: those of these bays that somebody looked at to sign are kept anew."""
    if kind in NOT_OF_A_BAY:
        return
    names = [f"{PREFIX}{b}" for b in bays]
    known = ScopeState.objects.filter(aircraft=aircraft, scope__in=names)
    scopes_of = list(known.values_list("scope", flat=True))
    if scopes_of:
        _lock(aircraft)
    for scope in scopes_of:
        bay = Bay.objects.filter(aircraft=aircraft, slug=scope.removeprefix(PREFIX)).first()
        if bay is not None:
            keep(aircraft, bay)


def bay_scope(aircraft: Aircraft, slug: str) -> Scope | None:
    """Who worked in a bay and until when, and what stands in the way of signing it."""
    bay = Bay.objects.filter(aircraft=aircraft, slug=slug).first()
    if bay is None:
        return None
    with transaction.atomic():
        _lock(aircraft)
        keep(aircraft, bay)
    owners = Member.objects.filter(aircraft=aircraft, role="owner")
    work = Change.objects.filter(aircraft=aircraft, bays__contains=[slug], work=True)
    last = work.order_by("-at").first()
    workers = {
        *owners.values_list("person__slug", flat=True),
        *work.values_list("by__slug", flat=True).distinct(),
    }
    return Scope(
        name=f"{PREFIX}{slug}",
        workers=tuple(sorted(workers)) if last else (),
        work_done_at=last.at if last else None,
        not_ready=tuple(_not_ready(bay)),
    )


def _not_ready(bay: Bay) -> Iterable[str]:
    joints = Joint.objects.filter(bay=bay).exclude(why=[]).values_list("name", "why")
    undone = [f"{name}: {'; '.join(why)}" for name, why in joints]
    undone += [
        f"{what}: loose end"
        for what in LooseEnd.objects.filter(bay=bay, ended_at__isnull=True).values_list(
            "what", flat=True
        )
    ]
    undone += [
        f"finding: {text}"
        for text in Finding.objects.filter(bay=bay, closed_at__isnull=True).values_list(
            "text", flat=True
        )
    ]
    if undone:
        more = f" and {len(undone) - 6} more" if len(undone) > 6 else ""
        yield f"Not everything in this bay is done: {'. '.join(undone[:6])}{more}."


def _today(aircraft: Aircraft) -> dict[str, facts.Values]:
    known = ScopeState.objects.filter(aircraft=aircraft, scope__startswith=PREFIX)
    found: dict[str, facts.Values] = {}
    for scope in known.values_list("scope", flat=True):
        bay = Bay.objects.filter(aircraft=aircraft, slug=scope.removeprefix(PREFIX)).first()
        if bay is not None:
            found[scope] = values(aircraft, bay)
    return found


def opened_times(closure: int) -> int:
    """How many times it was opened again."""
    return ClosureEvent.objects.filter(closure=closure, doing="opened").count()


scopes.register("bay", bay_scope)
facts.register("bay", facts.ScopeKind(today=_today, earlier=lambda aircraft: ()))
