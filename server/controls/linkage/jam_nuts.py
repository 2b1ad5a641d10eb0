"""A rod's jam nuts as joints of the aircraft: torqued, marked, and loose once it was turned."""

from __future__ import annotations

from collections.abc import Iterable

from core.controls.linkage.document import Document
from server.accounts.models import Person
from server.controls.linkage.models import Adjustment, Mechanism, Rod
from server.controls.models import Control
from server.kit.ports import WantedJoint, Worked, also_worked, joints


def name_of(rod: Rod, end: str) -> str:
    """What the joint is called."""
    held = getattr(rod, end)
    plain = rod.slug.replace("_", " ")
    called = plain if "rod" in plain.split() else f"{plain} rod"
    return f"Jam nut, {called} at {held['body'].replace('_', ' ')}"[:80]


def keep_joints(m: Mechanism, d: Document, by: Person) -> None:
    """A joint at each end of every rod whose record gives the jam nuts' torque."""
    wanted = [
        WantedJoint(
            name=name_of(rod, end),
            part=f"Rod {rod.slug.replace('_', ' ')}",
            control=m.control.slug,
            at=d.mechanism.at_reference(getattr(d.mechanism.rod(rod.slug), end)),
            more={"witness_needed": True, "device": "none"},
            torque=rod.record["jam_torque"],
        )
        for rod in m.rods.all()
        if rod.record.get("jam_torque")
        for end in ("a", "b")
    ]
    joints().keep(m.aircraft, by, wanted)


def drop_joints(m: Mechanism) -> list[str]:
    """Its jam nuts go with it; the bays they were in. Refused where
    anything was done to one."""
    names = [name_of(rod, end) for rod in m.rods.all() for end in ("a", "b")]
    return joints().drop(m.aircraft_id, m.control.slug, names)


def loosen(m: Mechanism, rod: Rod, by: Person, said: str) -> bool:
    """The rod was turned: its jam nuts are loose. False if none are kept as joints."""
    names = [name_of(rod, end) for end in ("a", "b")]
    return joints().loosen(m.aircraft, by, m.control.slug, names, said)


@also_worked
def secured(control: Control) -> Iterable[Worked]:
    """Who worked on the control's joints."""
    return joints().worked(control.aircraft_id, control.slug)


@also_worked
def turned(control: Control) -> Iterable[Worked]:
    """Who made half-turns on its rods and stops."""
    rows = Adjustment.objects.filter(mechanism__control=control)
    return rows.values_list("by__slug", "at")
