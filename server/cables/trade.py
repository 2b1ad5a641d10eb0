"""Cables as a trade: what is judged of a loop, where it is listed, and what puts it in question."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace

from core.basis.checks import Check, Shift, shifts
from core.cables.done import Done
from core.cables.judging import judge
from core.cables.judging_route import PILOT
from core.cables.lever import SIDES
from core.cables.rigging import Rigged
from server.aircraft.models import Bay
from server.cables.keeping import rigged_of
from server.cables.models import Cable, CableEvent, CableReading, Loop, Support
from server.cables.standing import done_of
from server.controls.models import Control, Surface
from server.kit.placing import boxes_of, placed, with_editions
from server.kit.trade import Judged, Subjects, Trade, declare, whole

PARTS = ("route", "ends")


def ends_of_travel(control: Control) -> tuple[str, str]:
    """Both ends of the driver's travel in words; empty where they have none."""
    surfaces = list(control.surfaces.all())
    return PILOT.get(surfaces[0].positive, ("", "")) if len(surfaces) == 1 else ("", "")


def checks_of(loop: Loop, rigged: Rigged | None = None) -> Iterable[Check]:
    """Every check of a loop as it stands; `rigged`: as it was worked out already."""
    return _checks(rigged or rigged_of(loop), done_of(loop), loop.control)


def _checks(rigged: Rigged, done: Done, control: Control) -> Iterable[Check]:
    return judge(rigged, done, control.slug, control.primary, ends_of_travel(control))


def would_shift(rigged: Rigged, control: Control) -> list[Shift]:
    """What keeping a changed file would judge otherwise, with all that was measured and done."""
    loop = Loop.objects.filter(control=control).select_related("control").first()
    if loop is None:
        return shifts((), _checks(rigged, Done(), control))
    return shifts(checks_of(loop), _checks(rigged, done_of(loop), control))


def _listed(loop: Loop, c: Check) -> Check:
    part = c.part if c.part in PARTS else "tension"
    link = f"cables/{loop.control.slug}?part={part}"
    name = loop.control.name
    return replace(c, concern=f"cable {loop.pk} {c.key}", link=link, about=name)


def _judge(aircraft: int, subjects: Subjects) -> Iterable[Judged]:
    rows = Loop.objects.filter(aircraft=aircraft).select_related("control")
    if subjects is not None:
        rows = rows.filter(pk__in=[int(s) for s in subjects])
    boxes = boxes_of(aircraft)
    for loop in rows:
        rigged = rigged_of(loop)
        ways = [rigged.way(side) for side in SIDES]
        checks = with_editions(placed(checks_of(loop, rigged), boxes, ways))
        yield Judged(str(loop.pk), tuple(_listed(loop, c) for c in checks), loop.pk)


def _of_control(control: Control) -> Iterable[tuple[int, str]]:
    for pk in Loop.objects.filter(control=control).values_list("pk", flat=True):
        yield control.aircraft_id, str(pk)


CABLES = declare(
    Trade(
        "cables",
        30,
        _judge,
        {
            Loop: lambda x: [(x.aircraft_id, str(x.pk))],
            Cable: lambda x: [(x.aircraft_id, str(x.loop_id))],
            Support: lambda x: [(x.aircraft_id, str(x.cable.loop_id))],
            CableReading: lambda x: [(x.aircraft_id, str(x.loop_id))],
            CableEvent: lambda x: [(x.aircraft_id, str(x.loop_id))],
            Control: _of_control,
            Surface: lambda x: _of_control(x.control),
            Bay: whole,
        },
    )
)
