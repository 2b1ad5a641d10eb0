"""Documents and bulletins, in words."""

from __future__ import annotations

from server.aircraft.models import Source
from server.find.indexing import Boxes, Found, findable
from server.sources.models import Directive


@findable(Source)
def source(s: Source, boxes: Boxes) -> Found:
    """By its title and revision."""
    return Found("document", str(s.pk), s.cited, link="sources", aircraft=s.aircraft_id)


@findable(Directive)
def directive(d: Directive, boxes: Boxes) -> Found:
    """By its title and steps."""
    return Found(
        kind="bulletin",
        key=str(d.pk),
        title=d.title,
        text="; ".join(d.steps),
        bays=tuple(d.bays),
        link="sources",
        aircraft=d.aircraft_id,
    )
