"""Clearances in words: where is this, what does it hold?"""

from __future__ import annotations

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
