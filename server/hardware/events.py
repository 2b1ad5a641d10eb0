"""Recording what is done to a joint, and what follows from it elsewhere."""

from __future__ import annotations

from collections.abc import Callable
from datetime import UTC, datetime
from typing import Any

from core.basis.checks import Check
from core.basis.quantities import parse
from core.basis.refused import Refused
from server.accounts.models import Person
from server.hardware.judging import judge_joint, torque_check
from server.hardware.models import Joint, JointEvent
from server.hardware.securing import folded, state
from server.instruments.models import Instrument
from server.journal.writing import note
from server.kit.records import held, take_back

Follower = Callable[[Joint, JointEvent, Person], None]
_followers: list[Follower] = []

SAID = {
    "installed": "put in",
    "run down": "run down",
    "torqued": "torqued",
    "safetied": "safetied",
    "sealed": "witness mark put on",
    "loosened": "loosened",
    "disturbed": "disturbed",
    "mark broken": "witness mark found broken",
    "undone": "taken back",
}


def after(follower: Follower) -> Follower:
    """Be told of every event, in its transaction (loose ends follow so)."""
    _followers.append(follower)
    return follower


def locked(aircraft: int, slug: str) -> Joint | None:
    """The joint, locked for writing."""
    rows = Joint.objects.select_for_update(of=("self",)).select_related(
        "aircraft", "bay", "bolt", "nut", "compound"
    )
    return rows.filter(aircraft=aircraft, slug=slug).first()


def record(
    joint: Joint,
    doing: str,
    by: Person,
    value: str = "",
    instrument: Instrument | None = None,
    said: str = "",
    at: datetime | None = None,
) -> JointEvent:
    """Keep one event on a locked joint and judge it anew. Refuses what cannot follow."""
    event = JointEvent(
        aircraft=joint.aircraft,
        joint=joint,
        doing=doing,
        note=said,
        by=by,
        at=at or datetime.now(UTC),
    )
    if value and doing != "torqued":
        raise Refused("value", "only torque has a value")
    if value:
        event.as_typed, event.torque_nm = value.strip(), _torque(value)
    if instrument is not None:
        event.instrument, event.instrument_was = instrument, _as_it_is(instrument)
    before = held(joint.events.order_by("id"))
    done, _ = folded([*before, event])
    # Refused here before anything is kept: safetying or a mark without torque.
    state(joint, done, joint.temporary)
    event.save()
    _judged(joint, event, by)
    return event


def would_be(joint: Joint, value: str, instrument: Instrument | None) -> Check | None:
    """What a torque would be judged as, were it kept; None where none is asked."""
    event = JointEvent(as_typed=value.strip(), torque_nm=_torque(value))
    if instrument is not None:
        event.instrument_was = _as_it_is(instrument)
    return torque_check(joint, event)


def undo(event: JointEvent, joint: Joint, by: Person) -> JointEvent:
    """Take back the last event of a locked joint; earlier ones are not taken back."""
    rows = joint.events.order_by("id")
    back = take_back(event, rows, by, SAID[event.doing], joint=joint)
    _judged(joint, back, by)
    return back


def _judged(joint: Joint, event: JointEvent, by: Person) -> None:
    judge_joint(joint)
    joint.save()
    what = f"{joint.name}: {SAID[event.doing]}"
    if event.as_typed:
        what += f" to {event.as_typed}"
    bays = [joint.bay.slug] if joint.bay else []
    note(joint.aircraft, by, "joint", what, bays, f"joints?joint={joint.slug}", True, event.at)
    for follower in _followers:
        follower(joint, event, by)


def _torque(value: str) -> float:
    torque = parse(value, "torque", "Nm").si
    if torque <= 0:
        raise Refused("value", "must be greater than zero")
    return torque


def _as_it_is(i: Instrument) -> dict[str, Any]:
    if i.kind != "torque":
        raise Refused("instrument", "is not a torque wrench")
    return {
        "name": i.name,
        "accuracy": i.accuracy,
        "resolution": i.resolution,
        "calibration_due": i.calibration_due.isoformat() if i.calibration_due else "",
    }
