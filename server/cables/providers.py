"""What cables tell the linkage that goes through them, and the stand-ins' hand."""

from __future__ import annotations

from typing import Any

from core.basis.refused import Refused
from server.cables.keeping import rigged_of, rigging_of
from server.cables.models import Cable, Loop
from server.controls.models import Control
from server.instruments.reading import rigs
from server.kit.ports import couples


@couples
def coupling(control: Control, driver: str, driven: str) -> list[list[float]] | None:
    """What a body drives through this control's cables: [its q, the driven q], from the loop."""
    loop = Loop.objects.filter(control=control).first()
    if loop is None:
        return None
    if (loop.driver.get("body"), loop.driven.get("body")) != (driver, driven):
        return None
    try:
        rigged = rigged_of(loop)
        return rigged.once("curve", rigged.curve)
    except Refused:
        return None


@rigs
def turned(aircraft: str, place: str) -> tuple[str, dict[str, Any]] | None:
    """How far each side was drawn in, m, for the control (or a surface) of that name."""
    rows = Loop.objects.filter(aircraft__slug=aircraft).select_related("control")
    loop = rows.filter(control__slug=place).first()
    loop = loop or rows.filter(control__surfaces__slug=place).first()
    if loop is None:
        return None
    rigging = rigging_of(loop)
    drawn = {}
    for cable in Cable.objects.filter(loop=loop):
        buckle = rigging.cables[cable.side].turnbuckle
        drawn[cable.side] = cable.turns * buckle.travel_per_turn_m if buckle else 0.0
    return f"{loop.slug}-cables", {"cables": drawn}
