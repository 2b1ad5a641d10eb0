"""Levers, cranks and rods, in words: where is the bellcrank, and what is on it?"""

from __future__ import annotations

from core.runs.bays import bays_of
from server.aircraft.models import Bay
from server.controls.linkage.models import Body, Rod
from server.controls.models import Control
from server.find.indexing import Boxes, Found, findable


@findable(
    Body,
    {
        Bay: lambda b: Body.objects.filter(aircraft=b.aircraft_id),
        Control: lambda c: Body.objects.filter(mechanism__control=c.pk),
    },
    joins=("mechanism__control",),
)
def body(b: Body, boxes: Boxes) -> Found:
    """By its name and the names of its points, at its pivot (a slide: at its first point)."""
    # The database keeps no order of names: the first by name, so that it is always the same.
    points = dict(sorted(b.points_m.items()))
    at = b.pivot_m or next(iter(points.values()), None)
    control = b.mechanism.control
    return Found(
        kind="lever",
        key=f"{b.mechanism_id} {b.slug}",
        title=f"{control.name}: {b.slug.replace('_', ' ')}",
        text=", ".join(name.replace("_", " ") for name in points),
        bays=tuple(bays_of(at, boxes.of(b.aircraft_id))[:1]) if at else (),
        point_m=at,
        link=f"controls/{control.slug}/linkage",
        aircraft=b.aircraft_id,
    )


@findable(
    Rod,
    {Control: lambda c: Rod.objects.filter(mechanism__control=c.pk)},
    joins=("mechanism__control",),
)
def rod(r: Rod, boxes: Boxes) -> Found:
    """By its name and what it joins."""
    control = r.mechanism.control
    ends = f"{r.a['body']} to {r.b['body']}".replace("_", " ")
    return Found(
        kind="rod",
        key=f"{r.mechanism_id} {r.slug}",
        title=f"{control.name}: rod {r.slug.replace('_', ' ')}",
        text=ends,
        link=f"controls/{control.slug}/linkage?rod={r.slug}",
        aircraft=r.aircraft_id,
    )
