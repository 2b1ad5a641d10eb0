"""Weight and balance in words: where is this, what does it hold?"""

from __future__ import annotations

from core.weight.rows import LIMITS, ROWS
from server.find.indexing import Boxes, Found, findable
from server.weight.models import WeightRow


@findable(WeightRow)
def weight_row(r: WeightRow, boxes: Boxes) -> Found:
    """By its name and what was typed in a line."""
    typed = r.typed
    said = [str(typed[f.key]) for f in r.of.fields if f.of != "table" and typed.get(f.key)]
    for f in r.of.fields:
        if f.of == "table":
            keys = [c.key for c in f.columns]
            said += [
                " ".join(str(row[k]) for k in keys if row.get(k)) for row in typed.get(f.key) or []
            ]
    part = ROWS[r.kind].part if r.kind != LIMITS else "limits"
    return Found(
        kind=r.kind,
        key=r.slug,
        title=r.name,
        text=f"{r.of.title.lower()}: {', '.join(said)}"[:300],
        link=f"weight?part={part}&row={r.slug}",
        aircraft=r.aircraft_id,
    )
