"""Joints, in words."""

from __future__ import annotations

from server.find.indexing import Boxes, Found, findable
from server.hardware.models import Joint


@findable(Joint, joins=("bay", "bolt", "nut"))
def joint(j: Joint, boxes: Boxes) -> Found:
    """By its name, what it holds, its hardware."""
    layers = ", ".join(s["name"] for s in j.stack)
    hardware = " ".join(s.name for s in (j.bolt, j.nut) if s)
    return Found(
        kind="joint",
        key=j.slug,
        title=j.name,
        text="; ".join(x for x in (j.part, layers, hardware) if x),
        bays=(j.bay.slug,) if j.bay else (),
        point_m=j.point_m,
        link=f"joints?joint={j.slug}",
        aircraft=j.aircraft_id,
        more=(j.control, j.device),
    )
