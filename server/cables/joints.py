"""What holds a cable as joints of the aircraft: guards at pulleys, clevis pins at its ends."""

from __future__ import annotations

from collections.abc import Iterable

from core.cables.document import PINNED, Rigging
from core.cables.lever import SIDES
from server.accounts.models import Person
from server.cables.keeping import rigging_of
from server.cables.models import Loop
from server.kit.ports import WantedJoint, joints


def keep_joints(loop: Loop, by: Person) -> list[str]:
    """A joint for each pulley's guard and each end's pin that is not there yet; their names."""
    control, r = loop.control, rigging_of(loop)
    return joints().keep(loop.aircraft, by, list(_wanted(control.name, control.slug, r)))


def drop_joints(loop: Loop) -> list[str]:
    """They go with the cables; the bays they were in. Refused where
    anything was done to one."""
    control = loop.control
    names = [w.name for w in _wanted(control.name, control.slug, rigging_of(loop))]
    return joints().drop(loop.aircraft_id, control.slug, names)


def _wanted(name: str, control: str, r: Rigging) -> Iterable[WantedJoint]:
    for side in SIDES:
        cable = r.cables[side]
        ends = {"A": getattr(r.driver, side), "B": getattr(r.driven, side)}
        for letter, end in cable.ends.items():
            if end.kind in PINNED and end.pin != "none":
                said = f"{name}: Clevis pin, {cable.name.lower()} at end {letter}"
                more = {"device": "cotter", "rotating": True}
                yield WantedJoint(said[:80], "clevis pin", control, ends[letter], more)
        for s in cable.supports:
            if s.kind == "pulley" and s.guard != "no":
                said = f"{name}: guard, {s.id}"
                more = {"device": "cotter", "rotating": False}
                yield WantedJoint(said[:80], "cable guard", control, s.centre, more)
