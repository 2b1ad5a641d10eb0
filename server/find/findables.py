"""Bays, closures and the surfaces of controls, in words."""

from __future__ import annotations

from server.aircraft.models import Bay, Closure
from server.controls.models import Control, Surface
from server.find.indexing import Boxes, Found, findable


@findable(Bay)
def bay(b: Bay, boxes: Boxes) -> Found:
    """By its name."""
    return Found(
        kind="bay",
        key=b.slug,
        title=b.name,
        bays=(b.slug,),
        point_m=[(b.x0_m + b.x1_m) / 2, (b.y0_m + b.y1_m) / 2, (b.z0_m + b.z1_m) / 2],
        link=f"bays/{b.slug}",
        aircraft=b.aircraft_id,
    )


@findable(Closure)
def closure(c: Closure, boxes: Boxes) -> Found:
    """By its name and kind; the bays that it opens are read when it is shown."""
    return Found(
        kind="closure",
        key=c.slug,
        title=c.name,
        text="permanent" if c.permanent else "removable",
        link=f"closures/{c.slug}",
        aircraft=c.aircraft_id,
    )


@findable(
    Surface,
    {Control: lambda c: Surface.objects.filter(control=c.pk)},
    joins=("control", "bay"),
)
def surface(s: Surface, boxes: Boxes) -> Found:
    """By its name."""
    return Found(
        kind="surface",
        key=s.slug,
        title=s.name,
        text=s.control.name,
        bays=(s.bay.slug,) if s.bay else (),
        link=f"controls/{s.control.slug}",
        aircraft=s.aircraft_id,
    )
