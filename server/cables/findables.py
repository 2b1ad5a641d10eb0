"""Cables and what they run over, in words: where does this cable run?"""

from __future__ import annotations

from core.runs.bays import bays_of
from server.aircraft.models import Bay
from server.cables.models import Cable, Support
from server.controls.models import Control
from server.find.indexing import Found, findable


@findable(
    Cable,
    {
        Support: lambda s: [s.cable],
        Bay: lambda b: Cable.objects.filter(aircraft=b.aircraft_id),
        Control: lambda c: Cable.objects.filter(loop__control=c.pk),
    },
)
def cable(c: Cable) -> Found:
    """By its name, construction and size, in every bay that its supports lie in."""
    boxes = [x.box for x in Bay.objects.filter(aircraft=c.aircraft_id)]
    places = [bays_of(s.centre_m, boxes)[:1] for s in c.supports.all()]
    control = c.loop.control
    return Found(
        kind="cable",
        key=f"{c.loop_id} {c.side}",
        title=f"{control.name}: {c.name.lower()}",
        text=f"{c.construction} {c.material} control cable, turnbuckle",
        bays=tuple(dict.fromkeys(b for found in places for b in found)),
        link=f"cables/{control.slug}?part=route",
        aircraft=c.aircraft_id,
    )


@findable(
    Support,
    {
        Bay: lambda b: Support.objects.filter(aircraft=b.aircraft_id),
        Control: lambda c: Support.objects.filter(cable__loop__control=c.pk),
    },
)
def support(s: Support) -> Found:
    """By its name, where it is."""
    boxes = [x.box for x in Bay.objects.filter(aircraft=s.aircraft_id)]
    control = s.cable.loop.control
    return Found(
        kind=s.kind,
        key=f"{s.cable_id} {s.slug}",
        title=f"{control.name}: {s.slug}",
        text=f"{s.cable.name} {s.kind}",
        bays=tuple(bays_of(s.centre_m, boxes)[:1]),
        point_m=s.centre_m,
        link=f"cables/{control.slug}?part=route",
        aircraft=s.aircraft_id,
    )
