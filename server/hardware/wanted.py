"""Joints that other trades need: their parts' bolts, guards, pins and jam nuts."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from datetime import datetime

from core.basis.refused import Refused
from server.accounts.models import Person
from server.aircraft.models import Aircraft
from server.aircraft.slugs import slug_for
from server.hardware.entering import put_joint
from server.hardware.events import record
from server.hardware.forms import JointIn
from server.hardware.judging import judge_joint
from server.hardware.models import Joint, JointEvent
from server.kit.ports import WantedJoint, hold
from server.kit.removing import standing_on


class Joints:
    """Answers for joints."""

    def keep(self, aircraft: Aircraft, by: Person, wanted: Sequence[WantedJoint]) -> list[str]:
        """Make those that are not there, and put a new torque on those that are."""
        return [w.name for w in wanted if _keep(aircraft, by, w)]

    def loosen(
        self, aircraft: Aircraft, by: Person, control: str, names: Sequence[str], said: str
    ) -> bool:
        """Those of these names are loose now; False if there are none."""
        rows = Joint.objects.select_for_update(of=("self",)).select_related(
            "aircraft", "bay", "bolt", "nut", "compound"
        )
        found = list(rows.filter(aircraft=aircraft, control=control, name__in=names))
        for j in found:
            record(j, "loosened", by, said=said)
        return bool(found)

    def of(self, aircraft: int, control: str) -> bool:
        """Whether a control has any."""
        return Joint.objects.filter(aircraft=aircraft, control=control).exists()

    def drop(self, aircraft: int, control: str, names: Sequence[str]) -> list[str]:
        """Those of these names go; refused where anything was done to one."""
        wanted = [name[:80] for name in names]
        rows = Joint.objects.filter(aircraft=aircraft, control=control, name__in=wanted)
        found = list(rows.select_related("bay"))
        for j in found:
            if stands := standing_on(j, "joint"):
                raise Refused("joints", f"{j.name} stays: {', '.join(stands)} in the record")
            j.delete()
        return [j.bay.slug for j in found if j.bay]

    def worked(self, aircraft: int, control: str) -> Iterable[tuple[str, datetime]]:
        """Who torqued, pinned or loosened the joints of a control."""
        rows = JointEvent.objects.filter(joint__aircraft=aircraft, joint__control=control)
        yield from rows.values_list("by__slug", "at")


def _keep(aircraft: Aircraft, by: Person, w: WantedJoint) -> bool:
    name = w.name[:80]
    j = Joint.objects.filter(aircraft=aircraft, name=name, control=w.control).first()
    if j is not None and (not w.torque or j.torque_typed == w.torque):
        return False
    j = j or Joint(aircraft=aircraft, version=0)
    asked = JointIn(data=_typed(w, name))
    asked.is_valid(raise_exception=True)
    put_joint(j, asked.validated_data)
    j.slug = j.slug or slug_for(Joint, aircraft, name)
    j.version, j.changed_by = j.version + 1, by
    j.save()
    judge_joint(j)
    j.save()
    return True


def _typed(w: WantedJoint, name: str) -> dict[str, object]:
    station, butt, water = (f"{v * 1e3:.6g} mm" for v in w.at)
    return {
        "name": name,
        "part": w.part,
        "control": w.control,
        "station": station,
        "butt_line": butt,
        "water_line": water,
        "torque": w.torque,
        "loss_prevents_safe_flight": True,
        **w.more,
    }


hold(joints=Joints())
