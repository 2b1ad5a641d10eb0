"""Clearance as a trade: every near pair, zone, door and contact, each in the bay where it is."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace
from typing import Any

from core.basis.checks import Check
from core.basis.refused import Refused
from core.basis.verdicts import Verdict
from core.clearance.checks import checks_of
from core.clearance.rows import ABOUT, CONTACT, MOVER, PAIR, SHAPE
from core.clearance.scene import corners_of
from server.accounts.models import Person
from server.aircraft.models import Aircraft, Bay
from server.clearance.models import ClearanceRow, PairEvent
from server.clearance.reading import events_of, log_of, row_of, rows_of, scene_of
from server.kit.moving import reads_movement
from server.kit.placing import bay_at, boxes_of, nearest_bay, passed, placed, with_editions
from server.kit.removing import also_stands, counted
from server.kit.routed import reads_routes
from server.kit.trade import Judged, Subjects, Trade, declare, whole

TRADE, SUBJECT = "clearance", "map"


def _judge(aircraft: int, subjects: Subjects) -> Iterable[Judged]:
    if subjects is not None and SUBJECT not in subjects:
        return
    checks = with_editions(_checks(Aircraft.objects.get(pk=aircraft)))
    boxes = boxes_of(aircraft)
    near = [replace(c, bays=nearest_bay(c.at, boxes)) for c in map(_listed, checks)]
    listed = placed(near, boxes)
    if listed:
        yield Judged(SUBJECT, tuple(listed))


def _checks(aircraft: Aircraft) -> list[Check]:
    try:
        scene = scene_of(aircraft)
        if not scene.rows and len(scene.things) < 2:
            return []
        return checks_of(scene, log_of(events_of(aircraft.pk)))
    except Refused as refusal:
        # Something that it stands on is otherwise now.
        said = f"Cannot be judged any more: {refusal.field} {refusal.reason}."
        return [Check(SUBJECT, "Clearances", said, Verdict.NOT_MEASURED, step="clearance")]


def _listed(c: Check) -> Check:
    return replace(c, concern=f"clearance {c.key}", link=f"clearance?pair={c.key}")


declare(Trade(TRADE, 39, _judge, {ClearanceRow: whole, PairEvent: whole, Bay: whole}))
reads_routes(TRADE)
reads_movement(TRADE)


def bays_of(r: ClearanceRow) -> Iterable[str]:
    """Where a shape stands, at rest; other rows lie nowhere."""
    if r.kind != SHAPE:
        return ()
    try:
        values = row_of(r).values
        points = corners_of(values)[0].tolist()
    except Refused:
        return ()
    boxes = boxes_of(r.aircraft_id)
    return bay_at(points[0], boxes) if values["form"] == "box" else passed([points], boxes)


# Which fields of a kind name something of the rows.
NAMES = {CONTACT: ("a", "b"), PAIR: ("a", "b"), ABOUT: ("of",), SHAPE: ("on",), MOVER: ("carried",)}


def naming(r: ClearanceRow) -> list[ClearanceRow]:
    """The rows that name this one."""
    if r.kind not in (SHAPE, MOVER):
        return []
    low = r.name.casefold()
    return [
        other
        for other in rows_of(r.aircraft_id)
        if other.pk != r.pk
        and any(str(other.typed.get(k, "")).casefold() == low for k in NAMES.get(other.kind, ()))
    ]


def follow(r: ClearanceRow, was: str, by: Person) -> int:
    """Rows that name it under its old name name it under its new one; how many."""
    if was.casefold() == r.name.casefold():
        return 0
    rows = naming(ClearanceRow(aircraft=r.aircraft, kind=r.kind, name=was, pk=r.pk))
    for other in rows:
        for key in NAMES[other.kind]:
            if str(other.typed.get(key, "")).casefold() == was.casefold():
                other.typed[key] = r.name
        other.version, other.changed_by = other.version + 1, by
        other.save()
    return len(rows)


@also_stands
def _named(kind: str, row: Any) -> Iterable[str]:
    """Contacts and what is known of shapes, and shapes on movers."""
    if isinstance(row, ClearanceRow):
        yield from counted(len(naming(row)), "row of clearances", "rows of clearances")
