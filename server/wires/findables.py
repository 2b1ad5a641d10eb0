"""The harness in words: where does this wire go?"""

from __future__ import annotations

from core.wiring.harness import ROWS
from server.find.indexing import Boxes, Found, findable
from server.wires.models import HarnessRow


@findable(HarnessRow)
def harness_row(r: HarnessRow, boxes: Boxes) -> Found:
    """By its name, its ends, circuit, colour and bundles."""
    typed = r.typed
    ends = " to ".join(str(typed[k]) for k in ("from", "to") if typed.get(k))
    more = (typed.get(k, "") for k in ("circuit", "awg", "colour", "bundles", "mate", "class"))
    said = ", ".join(str(x) for x in (ends, *more) if x)
    return Found(
        kind=r.kind,
        key=r.slug,
        title=r.name,
        text=f"{ROWS[r.kind].title.lower()}: {said}" if said else ROWS[r.kind].title.lower(),
        link=f"wires?part=harness&row={r.slug}",
        aircraft=r.aircraft_id,
    )
