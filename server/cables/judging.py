"""Everything that the rules say of a loop, gathered and kept on its row."""

from __future__ import annotations

from collections.abc import Iterable

from core.basis.verdicts import Verdict, worst
from core.cables.lever import SIDES
from core.cables.rigging import Rigged
from core.clearance.bays import bays_of
from server.aircraft.models import Bay
from server.cables.checking import Check
from server.cables.end_checks import end_checks, inspection_checks
from server.cables.keeping import rigging_of
from server.cables.models import Loop
from server.cables.route_checks import ends_of_travel, geometry_checks
from server.cables.standing import stands
from server.cables.tension_checks import (
    reached,
    sense_checks,
    size_check,
    tension_check,
    through_check,
    turnbuckle_checks,
)

# Tabs and flaps are no primary controls (14 CFR 23.689).
SECONDARY = ("trim", "flaps", "tab")


def judge_loop(loop: Loop) -> None:
    """Judge again and keep it on the row; the caller saves nothing else."""
    boxes = [b.box for b in Bay.objects.filter(aircraft=loop.aircraft_id)]
    found = list(checks_of(loop))
    for c in found:
        c["bays"] = list(bays_of(c["bays"], boxes)[:1]) if c["bays"] else []
    loop.judged = found  # type: ignore[assignment]
    loop.verdict = worst(Verdict(c["verdict"]) for c in found).value
    Loop.objects.filter(pk=loop.pk).update(judged=loop.judged, verdict=loop.verdict)


def checks_of(loop: Loop, rigged: Rigged | None = None) -> Iterable[Check]:
    """Every check of a loop, as kept (or, for a what-if, as `rigged`)."""
    rigged = rigged or Rigged(rigging_of(loop))
    stand = stands(loop)
    rows = {c.side: c for c in loop.sides.all()}
    primary = not any(word in loop.control.slug for word in SECONDARY)
    for side in SIDES:
        cable = rigged.rigging.cables[side]
        yield size_check(cable, primary)
        found = tension_check(rigged, side, stand)
        found["bays"] = reached(cable)  # type: ignore[typeddict-item]
        yield found
        yield from turnbuckle_checks(cable, rows.get(side), stand)
        yield from end_checks(rigged, cable, stand)
    yield through_check(rigged)
    yield from sense_checks(loop, rigged)
    yield from geometry_checks(rigged, ends_of_travel(loop.control))
    yield from inspection_checks(loop, stand)
