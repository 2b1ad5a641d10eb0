"""What a note, photo, finding or loose end is about: a bay, closure, joint or finding."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from core.basis.quantities import whole
from core.basis.refused import Refused
from server.aircraft.access import bay_of
from server.aircraft.models import Aircraft, Bay
from server.hardware.events import locked
from server.hardware.models import Joint
from server.kit.removing import also_stands, counted
from server.record.models import TARGETS, Finding, Note, Photo


def locked_joint(aircraft: Aircraft, slug: str) -> Joint | None:
    """The joint, locked; refuses one that is not this aircraft's."""
    if not slug:
        return None
    found = locked(aircraft.pk, slug)
    if found is None:
        raise Refused("joint", "is not a joint of this aircraft")
    return found


def place_of(aircraft: Aircraft, target: str, target_id: str) -> Bay | None:
    """The bay of a note's or photo's target; refuses what this aircraft does not have."""
    if target == "aircraft":
        return None
    if target == "bay":
        if not target_id:
            raise Refused("target_id", "say which bay")
        return bay_of(aircraft, target_id)
    if target == "joint":
        joint = Joint.objects.select_related("bay").filter(aircraft=aircraft, slug=target_id)
        if (found := joint.first()) is None:
            raise Refused("target_id", "is not a joint of this aircraft")
        return found.bay
    if target == "closure":
        closure = aircraft.closures.filter(slug=target_id).first()
        if closure is None:
            raise Refused("target_id", "is not a closure of this aircraft")
        bays = list(closure.bays.all()[:2])
        return bays[0] if len(bays) == 1 else None
    if target == "finding":
        rows = Finding.objects.select_related("bay").filter(aircraft=aircraft)
        finding = rows.filter(pk=whole(target_id) or 0).first()
        if finding is None:
            raise Refused("target_id", "is not a finding on this aircraft")
        return finding.bay
    raise Refused("target", f"must be one of: {', '.join(TARGETS)}")


@also_stands
def looked_at(kind: str, row: Any) -> Iterable[str]:
    """Notes and pictures of a joint or closure name it by its address."""
    if kind in ("joint", "closure"):
        for model, word in ((Note, "note"), (Photo, "photo")):
            rows = model.objects.filter(aircraft=row.aircraft_id, target=kind, target_id=row.slug)
            yield from counted(rows.count(), word)
