"""What the drawings say of travel, for the comparison of documents, and deciding between them."""

from __future__ import annotations

import math
from collections.abc import Iterable
from datetime import UTC, datetime

from core.basis.quantities import whole
from core.basis.refused import Refused
from core.signoff.documents import Statement
from server.aircraft.models import Aircraft, Member, Source
from server.controls import recording
from server.controls.facts import Held
from server.controls.models import Control, Requirement, SourceDecision
from server.controls.naming import named
from server.journal.writing import note
from server.signoff.ledger import append
from server.sources.registry import Decided, Only, Said, keeps_decisions, on_revision, says

KEY = "requirement:"


def _thing(r: Requirement) -> str:
    return f"{r.control.name}: {named(r)}"


def _shown(r: Requirement, lo: float, hi: float) -> str:
    low, high = (f"{round(math.degrees(x), 3):g}" for x in (lo, hi))
    return f"{low}°, no tolerance given" if r.no_tolerance else f"{low} to {high}°"


@says(Requirement)
def travels(aircraft: list[int], only: Only = None) -> Iterable[Said]:
    """Every requirement of travel with both limits."""
    rows = Requirement.objects.filter(
        control__aircraft__in=aircraft, kind="travel", lo__isnull=False, hi__isnull=False
    ).select_related("control", "surface__bay", "source")
    for r in rows:
        if only is not None and _thing(r).casefold() not in only:
            continue
        assert r.lo is not None and r.hi is not None
        key = f"{KEY}{r.pk}"
        yield Said(
            aircraft=r.control.aircraft_id,
            thing=_thing(r),
            key=key,
            statement=Statement(key, "range", r.lo, r.hi, "deg", 0.0),
            shown=_shown(r, r.lo, r.hi),
            cited=r.source.cited,
            page=r.page,
            dimension="angle",
            bay=r.surface.bay.slug if r.surface and r.surface.bay else "",
            link=f"controls/{r.control.slug}",
            family=f"travel:{r.control.slug}",
        )


def decisions(aircraft: list[int]) -> Iterable[Decided]:
    """The last decision on each travel."""
    rows = SourceDecision.objects.filter(surface__aircraft__in=aircraft).select_related(
        "requirement__control", "requirement__surface", "requirement__source", "decided_by"
    )
    for d in rows:
        yield Decided(
            d.requirement.control.aircraft_id,
            _thing(d.requirement),
            f"{d.requirement.source.cited}: {d.requirement.as_typed}",
            d.reason,
            d.decided_by.name,
            d.at.isoformat(),
        )


def decide(who: Member, control: Control, requirement: int, reason: str) -> Held:
    """Choose one of the sources of a travel; control and ledger are locked by the caller."""
    rows = control.requirements.select_related("surface", "source", "control")
    r = rows.filter(pk=requirement, surface__isnull=False).first()
    if r is None or r.surface is None:
        raise Refused("requirement", "is not one of this control")
    now = datetime.now(UTC)
    SourceDecision.objects.create(
        surface=r.surface,
        position=r.position,
        requirement=r,
        reason=reason,
        decided_by=who.person,
        at=now,
    )
    body = {
        "at": now.strftime("%Y-%m-%dT%H:%M:%SZ"),
        "by": who.person.slug,
        "scope": f"control:{control.slug}",
        "chosen": f"{r.surface.name}, {r.position}: {r.source.cited}, {r.as_typed}",
        "reason": reason,
    }
    append(who.aircraft, "resolution", body["scope"], who.person, body)
    bays = [r.surface.bay.slug] if r.surface.bay else []
    said = f"Decided: {_thing(r)}: {r.source.cited}, {r.as_typed}"
    note(who.aircraft, who.person, "source", said, bays, f"controls/{control.slug}")
    return recording.touched(control)


def _decide(who: Member, chosen: str, reason: str) -> None:
    key = chosen.removeprefix(KEY)
    r = Requirement.objects.filter(control__aircraft=who.aircraft, pk=whole(key) or 0).first()
    if r is None:
        raise Refused("chosen", "is not a requirement of this aircraft")
    control = Control.objects.select_for_update().get(pk=r.control_id)
    control.aircraft = who.aircraft
    Aircraft.objects.select_for_update().get(pk=who.aircraft_id)
    decide(who, control, r.pk, reason)


keeps_decisions("requirement", decisions, _decide)


@on_revision
def revised(aircraft: Aircraft, source: Source) -> None:
    """Facts cite the revision: every control that cites the document is kept anew."""
    keys = Requirement.objects.filter(source=source).values_list("control", flat=True)
    for control in Control.objects.select_for_update().filter(pk__in=set(keys)):
        control.aircraft = aircraft
        recording.touched(control)
