"""What the controls tell the lane: every requirement's stored verdict, where its surface is."""

from __future__ import annotations

from collections.abc import Iterable

from core.basis.verdicts import Verdict
from server.aircraft.concerns import Concern, register
from server.controls.models import Requirement
from server.signoff.facts import stale_scopes


@register
def travel_concerns(aircraft: list[int]) -> Iterable[Concern]:
    """Requirements of these aircraft, and signatures gone stale where their surfaces are."""
    rows = Requirement.objects.filter(control__aircraft__in=aircraft).values_list(
        "control__aircraft", "control__slug", "surface__bay", "assessment__verdict"
    )
    stale = stale_scopes(aircraft)
    seen: set[tuple[int, str, int | None]] = set()
    for plane, control, bay, verdict in rows:
        yield Concern(plane, bay, Verdict(verdict or "not measured"))
        if (plane, f"control:{control}") in stale and (plane, control, bay) not in seen:
            seen.add((plane, control, bay))
            yield Concern(plane, bay, Verdict.STALE)
