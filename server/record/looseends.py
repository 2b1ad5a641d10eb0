"""Leaving loose ends and ending them; a joint with one is temporary."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Any

from django.db.models import QuerySet

from core.basis.refused import Refused
from server.accounts.models import Person
from server.aircraft.models import Aircraft, Bay
from server.hardware import events
from server.hardware.judging import judge_joint
from server.hardware.models import Joint, JointEvent
from server.journal.writing import note
from server.kit.ports import hold
from server.record.models import LooseEnd

AGAIN = "torqued and secured again"


def leave(
    aircraft: Aircraft,
    by: Person,
    what: str,
    ends_with: str,
    reason: str = "",
    bay: Bay | None = None,
    joint: Joint | None = None,
    at: datetime | None = None,
) -> LooseEnd:
    """A new loose end; its joint must be locked by the caller."""
    if not what.strip():
        raise Refused("what", "is needed: what is loose, missing or temporary")
    if not ends_with.strip():
        raise Refused("ends_with", "is needed: what ends it, such as the final rig")
    end = LooseEnd.objects.create(
        aircraft=aircraft,
        changed_by=by,
        what=what.strip(),
        reason=reason.strip(),
        ends_with=ends_with.strip(),
        bay=bay or (joint.bay if joint else None),
        joint=joint,
        left_by=by,
        left_at=at or datetime.now(UTC),
    )
    if joint is not None:
        _judge(joint)
    bays = [end.bay.slug] if end.bay else []
    said = f"Left loose: {end.what}, until {end.ends_with}"
    note(aircraft, by, "loose end", said, bays, "loose-ends", True, end.left_at)
    return end


def end(loose: LooseEnd, by: Person, how: str) -> None:
    """It is done; the caller holds the row (and its joint) locked."""
    if loose.ended_at is not None:
        raise Refused("loose end", "was ended already")
    loose.ended_by, loose.ended_at = by, datetime.now(UTC)
    loose.how, loose.version, loose.changed_by = how.strip(), loose.version + 1, by
    loose.save()
    if loose.joint is not None:
        _judge(loose.joint)
    bays = [loose.bay.slug] if loose.bay else []
    note(loose.aircraft, by, "loose end", f"Ended: {loose.what}", bays, "loose-ends", True)


def open_ends(aircraft: int) -> Any:
    """Those not ended."""
    return LooseEnd.objects.filter(aircraft=aircraft, ended_at__isnull=True).select_related(
        "bay", "joint", "left_by"
    )


def _judge(joint: Joint) -> None:
    joint.temporary = LooseEnd.objects.filter(joint=joint, ended_at__isnull=True).exists()
    judge_joint(joint)
    joint.save()


@events.after
def follow(joint: Joint, event: JointEvent, by: Person) -> None:
    """A loosened joint is a loose end; one that is secured again has none left."""
    if event.doing == "loosened":
        if not LooseEnd.objects.filter(joint=joint, ended_at__isnull=True).exists():
            leave(joint.aircraft, by, f"{joint.name} loosened", AGAIN, event.note, joint=joint)
        return
    if joint.temporary and joint.why == ["left temporary"]:
        for loose in LooseEnd.objects.filter(joint=joint, ended_at__isnull=True):
            loose.joint = joint
            end(loose, by, f"{joint.name}: {events.SAID[event.doing]}")


class LooseEnds:
    """Answers for loose ends."""

    def leave(
        self,
        aircraft: Aircraft,
        by: Person,
        what: str,
        ends_with: str,
        reason: str,
        bay: Bay | None = None,
        at: datetime | None = None,
    ) -> None:
        """Something was left temporary on purpose; nothing, if that is known already."""
        if not _open(aircraft, what).exists():
            leave(aircraft, by, what, ends_with, reason, bay, at=at)

    def end(self, aircraft: Aircraft, by: Person, what: str, how: str) -> None:
        """It is done, wherever it was left."""
        for loose in _open(aircraft, what):
            end(loose, by, how)


def _open(aircraft: Aircraft, what: str) -> QuerySet[LooseEnd]:
    return LooseEnd.objects.filter(aircraft=aircraft, what=what, ended_at__isnull=True)


hold(loose_ends=LooseEnds())
