"""Worksheets, in words."""

from __future__ import annotations

from server.find.indexing import Boxes, Found, findable
from server.worksheets.models import Worksheet
from server.worksheets.working import bays_of


@findable(Worksheet)
def worksheet(w: Worksheet, boxes: Boxes) -> Found:
    """By its name, what it asks, and what stands in its rows."""
    bays = bays_of(w, tuple(b.id for b in boxes.of(w.aircraft_id)))
    rows = [row for f in w.of.fields if f.of == "table" for row in w.typed.get(f.key, [])]
    names = [str(row["id"]) for row in rows if row.get("id")]
    return Found(
        kind="worksheet",
        key=w.slug,
        title=w.name,
        text=f"{w.of.title}: {w.of.asks} {', '.join(dict.fromkeys(names))}"[:1000],
        bays=bays,
        point_m=None,
        link=w.link,
        aircraft=w.aircraft_id,
        more=(w.of.part,),
    )
