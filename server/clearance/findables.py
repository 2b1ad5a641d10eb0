"""Clearances in words: where is this, what does it hold?"""

from __future__ import annotations

from server.aircraft.models import Bay
from server.clearance.models import ClearanceRow
from server.find.indexing import Boxes, Found, findable
from server.worksheets.working import plainly


@findable(ClearanceRow)
def clearance_row(r: ClearanceRow, boxes: Boxes) -> Found:
    """By its name and what was typed in a line."""
    said = ", ".join(v for v in plainly(r.of, r.typed).values() if v)
    return Found(
        kind=r.kind,
        key=r.slug,
        title=r.name,
        text=f"{r.of.title.lower()}: {said}"[:300],
        link=f"clearance?part={r.of.part}&row={r.slug}",
        aircraft=r.aircraft_id,
    )


@findable(Bay)
def section(b: Bay, boxes: Boxes) -> Found:
    """A section through a bay, at its middle."""
    middle = (b.box.lo[0] + b.box.hi[0]) / 2.0
    return Found(
        kind="section",
        key=b.slug,
        title=f"Section through {b.name}",
        text="what passes there, as seen from behind",
        bays=(b.slug,),
        link=f"clearance?part=section&at={middle * 1e3:.0f}",
        aircraft=b.aircraft_id,
    )
