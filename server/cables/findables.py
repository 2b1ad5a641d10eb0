"""Cables and what they run over, in words: where does this cable run?"""

from __future__ import annotations

from core.runs.bays import bays_of
from server.aircraft.models import Bay
from server.cables.models import Cable, Loop, Support
from server.controls.models import Control
from server.find.indexing import Boxes, Found, findable
from server.kit.placing import passed


@findable(
    Cable,
    {
        Loop: lambda x: Cable.objects.filter(loop=x.pk),
        Support: lambda s: Cable.objects.filter(pk=s.cable_id),
        Bay: lambda b: Cable.objects.filter(aircraft=b.aircraft_id),
        Control: lambda c: Cable.objects.filter(loop__control=c.pk),
    },
    joins=("loop__control",),
    gathers=("supports",),
)
def cable(c: Cable, boxes: Boxes) -> Found:
    """By its name, construction and size, in every bay that it passes from lever to lever."""
    centres = [s.centre_m for s in c.supports.all()]
    way = [c.loop.driver[c.side], *centres, c.loop.driven[c.side]]
    control = c.loop.control
    return Found(
        kind="cable",
        key=f"{c.loop_id} {c.side}",
        title=f"{control.name}: {c.name.lower()}",
        text=f"{c.construction} {c.material} control cable, turnbuckle",
        bays=passed([way], boxes.of(c.aircraft_id)),
        link=f"cables/{control.slug}?part=route",
        aircraft=c.aircraft_id,
    )


@findable(
    Support,
    {
        Bay: lambda b: Support.objects.filter(aircraft=b.aircraft_id),
        Control: lambda c: Support.objects.filter(cable__loop__control=c.pk),
    },
    joins=("cable__loop__control",),
)
def support(s: Support, boxes: Boxes) -> Found:
    """By its name, where it is."""
    control = s.cable.loop.control
    return Found(
        kind=s.kind,
        key=f"{s.cable_id} {s.slug}",
        title=f"{control.name}: {s.slug}",
        text=f"{s.cable.name} {s.kind}",
        bays=tuple(bays_of(s.centre_m, boxes.of(s.aircraft_id))[:1]),
        point_m=s.centre_m,
        link=f"cables/{control.slug}?part=route",
        aircraft=s.aircraft_id,
    )
