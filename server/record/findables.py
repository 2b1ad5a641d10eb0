"""Loose ends, findings, notes and captions, in words."""

from __future__ import annotations

from server.aircraft.models import Bay
from server.find.indexing import Boxes, Found, findable
from server.record.models import Finding, LooseEnd, Note, Photo


def _at(bay: Bay | None) -> tuple[str, ...]:
    return (bay.slug,) if bay else ()


@findable(LooseEnd, joins=("bay",))
def loose_end(e: LooseEnd, boxes: Boxes) -> Found:
    """While it is open."""
    return Found(
        kind="loose end",
        key=str(e.pk),
        title="" if e.ended_at else e.what,
        text=f"until {e.ends_with}; {e.reason}".rstrip("; "),
        bays=_at(e.bay),
        link="loose-ends",
        aircraft=e.aircraft_id,
    )


@findable(Finding, joins=("bay",))
def finding(f: Finding, boxes: Boxes) -> Found:
    """Closed ones too: in five years they tell what was."""
    return Found(
        kind="finding",
        key=str(f.pk),
        title=f.text,
        text=f.answer,
        bays=_at(f.bay),
        link=f"bays/{f.bay.slug}" if f.bay else "",
        aircraft=f.aircraft_id,
    )


@findable(Note, joins=("bay",))
def note(n: Note, boxes: Boxes) -> Found:
    """Until it is taken back."""
    return Found(
        kind="note",
        key=str(n.pk),
        title="" if n.withdrawn_at else n.text,
        bays=_at(n.bay),
        link=f"bays/{n.bay.slug}" if n.bay else "",
        aircraft=n.aircraft_id,
    )


@findable(Photo, joins=("bay",))
def photo(p: Photo, boxes: Boxes) -> Found:
    """By its caption and the labels drawn on it."""
    labels = "; ".join(m["text"] for m in p.overlay if m.get("text"))
    return Found(
        kind="photo",
        key=str(p.pk),
        title=p.caption or labels,
        text=labels,
        bays=_at(p.bay),
        link=f"bays/{p.bay.slug}" if p.bay else "",
        aircraft=p.aircraft_id,
    )
