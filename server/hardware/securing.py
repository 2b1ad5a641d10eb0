"""From a joint's events to its securing state: what was done since it was last disturbed."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import datetime
from typing import Any

from core.hardware.joint import Joint as CoreJoint
from core.hardware.joint import JointState, joint_state
from server.hardware.models import Joint, JointEvent

FRESH: dict[str, Any] = {
    "installed": False,
    "run_down": False,
    "torqued": False,
    "safetied": False,
    "witness": "none",
    "disturbed_since_torque": False,
}
_DOES: dict[str, dict[str, Any]] = {
    "installed": {"installed": True},
    "run down": {"installed": True, "run_down": True},
    "torqued": FRESH | {"installed": True, "run_down": True, "torqued": True},
    "safetied": {"safetied": True},
    "sealed": {"witness": "whole"},
    "mark broken": {"witness": "broken"},
    "disturbed": {"disturbed_since_torque": True},
    "loosened": FRESH | {"installed": True},
}


def folded(events: Iterable[JointEvent]) -> tuple[dict[str, Any], JointEvent | None]:
    """What is done now, and the event that torqued it (None if it is not torqued)."""
    done, torque = dict(FRESH), None
    for e in events:
        done |= _DOES[e.doing]
        if e.doing == "torqued":
            torque = e
        elif e.doing == "loosened":
            torque = None
    return done, torque


def put_in(joint: Joint) -> bool:
    """Whether what secures it is put in after torque: a nut that locks itself is not."""
    return joint.device not in ("", "none", "self_locking")


def waiting(joint: Joint) -> bool:
    """Whether what is to secure it is not in yet."""
    return put_in(joint) and not joint.done.get("safetied")


def state(joint: Joint, done: dict[str, Any], temporary: bool) -> JointState:
    """The securing state by the core's rule; refuses what cannot be."""
    return joint_state(
        CoreJoint(
            safety_needed=put_in(joint),
            device_said=joint.device != "",
            witness_needed=joint.witness_needed,
            retorque_due=_retorque_due(joint),
            temporary=temporary,
            **done,
        )
    )


def _retorque_due(joint: Joint) -> bool:
    at = joint.retorque_at_hours
    return at is not None and joint.aircraft.hours_run >= at


def torqued_at(torque: JointEvent | None) -> datetime | None:
    """When it was torqued as it is now."""
    return torque.at if torque else None
