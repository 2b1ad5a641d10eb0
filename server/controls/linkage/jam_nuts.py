"""A rod's jam nuts as joints of the aircraft: torqued, marked, and loose once it was turned."""

from __future__ import annotations

from typing import Any

from core.controls.linkage.document import Document
from server.accounts.models import Person
from server.controls.linkage.models import Mechanism, Rod
from server.hardware import events
from server.hardware.entering import put_joint, slug_for
from server.hardware.forms import JointIn
from server.hardware.judging import judge_joint
from server.hardware.models import Joint


def name_of(rod: Rod, end: str) -> str:
    """What the joint is called."""
    held = getattr(rod, end)
    plain = rod.slug.replace("_", " ")
    called = plain if "rod" in plain.split() else f"{plain} rod"
    return f"Jam nut, {called} at {held['body'].replace('_', ' ')}"[:80]


def keep_joints(m: Mechanism, d: Document, by: Person) -> None:
    """A joint at each end of every rod whose record gives the jam nuts' torque."""
    for rod in m.rods.all():
        if not rod.record.get("jam_torque"):
            continue
        for end in ("a", "b"):
            _keep(m, d, rod, end, by)


def _keep(m: Mechanism, d: Document, rod: Rod, end: str, by: Person) -> None:
    name, control = name_of(rod, end), m.control
    at = d.mechanism.at_reference(getattr(d.mechanism.rod(rod.slug), end))
    j = Joint.objects.filter(aircraft=m.aircraft, name=name, control=control.slug).first()
    if j is not None and j.torque_typed == rod.record["jam_torque"]:
        return
    j = j or Joint(aircraft=m.aircraft, version=0)
    asked = JointIn(data=_typed(name, control.slug, at, rod))
    asked.is_valid(raise_exception=True)
    put_joint(j, asked.validated_data)
    j.slug = j.slug or slug_for(Joint, m.aircraft, name)
    j.version, j.changed_by = j.version + 1, by
    j.save()
    judge_joint(j)
    j.save()


def _typed(name: str, control: str, at: Any, rod: Rod) -> dict[str, Any]:
    station, butt, water = (f"{v * 1e3:.4g} mm" if abs(v) < 1 else f"{v * 1e3:.6g} mm" for v in at)
    return {
        "name": name,
        "part": f"Rod {rod.slug.replace('_', ' ')}",
        "control": control,
        "station": station,
        "butt_line": butt,
        "water_line": water,
        "torque": rod.record["jam_torque"],
        "witness_needed": True,
        "loss_prevents_safe_flight": True,
    }


def loosen(m: Mechanism, rod: Rod, by: Person, said: str) -> bool:
    """The rod was turned: its jam nuts are loose. False if none are kept as joints."""
    names = [name_of(rod, end) for end in ("a", "b")]
    rows = Joint.objects.select_for_update(of=("self",)).select_related(
        "aircraft", "bay", "bolt", "nut", "compound"
    )
    found = list(rows.filter(aircraft=m.aircraft, control=m.control.slug, name__in=names))
    for j in found:
        events.record(j, "loosened", by, said=said)
    return bool(found)
