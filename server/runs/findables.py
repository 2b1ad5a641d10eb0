"""Runs, in words: where does this line run?"""

from __future__ import annotations

from server.find.indexing import Boxes, Found, findable
from server.runs.models import Run
from server.runs.places import bays_of_run


@findable(Run)
def run(r: Run, boxes: Boxes) -> Found:
    """By its name, what flows in it, its size."""
    return Found(
        kind="line",
        key=r.slug,
        title=r.name,
        text=f"{r.service} {r.kind}, {r.material}, {r.od_m * 1e3:.1f} mm",
        bays=bays_of_run(r, boxes.of(r.aircraft_id)),
        point_m=r.points_m[0] if r.placed else None,
        link=f"lines?line={r.slug}",
        aircraft=r.aircraft_id,
        more=(r.service, r.material),
    )
