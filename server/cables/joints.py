"""What holds a cable as joints of the aircraft: guards at pulleys, clevis pins at its ends."""

from __future__ import annotations

from typing import Any

from core.cables.document import Rigging
from core.cables.lever import SIDES
from core.cables.path import Vec
from server.accounts.models import Person
from server.cables.keeping import rigging_of
from server.cables.models import Loop
from server.hardware.entering import put_joint, slug_for
from server.hardware.forms import JointIn
from server.hardware.judging import judge_joint
from server.hardware.models import Joint

PINNED = ("fork terminal", "eye terminal", "shackle")


def keep_joints(loop: Loop, by: Person) -> list[Joint]:
    """A joint for each pulley's guard and each end's pin that is not there yet."""
    there = set(
        Joint.objects.filter(aircraft=loop.aircraft, control=loop.control.slug).values_list(
            "name", flat=True
        )
    )
    wanted = _wanted(loop.control.name, rigging_of(loop))
    return [_make(loop, by, *w) for w in wanted if w[0] not in there]


def _wanted(control: str, r: Rigging) -> list[tuple[str, str, Vec]]:
    found: list[tuple[str, str, Vec]] = []
    for side in SIDES:
        cable = r.cables[side]
        ends = {"A": getattr(r.driver, side), "B": getattr(r.driven, side)}
        for name, end in cable.ends.items():
            if end.kind in PINNED and end.pin != "none":
                said = f"Clevis pin, {cable.name.lower()} at end {name}"
                found.append((f"{control}: {said}"[:80], "clevis pin", ends[name]))
        for s in cable.supports:
            if s.kind == "pulley" and s.guard != "no":
                found.append((f"{control}: guard, {s.id}"[:80], "cable guard", s.centre))
    return found


def _make(loop: Loop, by: Person, name: str, part: str, at: Vec) -> Joint:
    j = Joint(aircraft=loop.aircraft, version=1, changed_by=by)
    asked = JointIn(data=_typed(name, part, loop.control.slug, at))
    asked.is_valid(raise_exception=True)
    put_joint(j, asked.validated_data)
    j.slug = slug_for(Joint, loop.aircraft, name)
    j.save()
    judge_joint(j)
    j.save()
    return j


def _typed(name: str, part: str, control: str, at: Vec) -> dict[str, Any]:
    station, butt, water = (f"{v * 1e3:.6g} mm" for v in at)
    return {
        "name": name,
        "part": part,
        "control": control,
        "station": station,
        "butt_line": butt,
        "water_line": water,
        "device": "cotter",
        "rotating": part == "clevis pin",
        "loss_prevents_safe_flight": True,
    }
