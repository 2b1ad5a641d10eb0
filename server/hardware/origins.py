"""Where the inputs of a joint's checks come from, in words."""

from __future__ import annotations

from dataclasses import replace

from core.basis.checks import Check
from server.hardware.models import Joint, JointEvent

ENTERED = "entered with the joint"


def told(joint: Joint, check: Check, torque: JointEvent | None) -> Check:
    """The check with where each of its inputs comes from; ENTERED where nothing else is said."""
    known = _known(joint, check.key, torque)
    return replace(check, origins={k: known.get(k, ENTERED) for k in check.inputs})


def _known(joint: Joint, check: str, torque: JointEvent | None) -> dict[str, str]:
    if check == "bolt":
        layers = ", ".join(layer["name"] or layer["typed"] for layer in joint.stack or ())
        stack = {"stack_m": f"its layers: {layers}"}
        return stack | {"bolt": _stocked(joint, "bolt"), "nut": _stocked(joint, "nut")}
    if check == "fit":
        return dict.fromkeys(("hole_m", "shaft_m"), "measured, as typed")
    if check == "safetying":
        drilled = _stocked(joint, "bolt")
        found = {
            "nut": _stocked(joint, "nut"),
            "bolt_drilled_shank": drilled,
            "head_drilled": drilled,
        }
        if joint.temperature_max_k is None:
            # Heat matters to a nonmetallic insert alone.
            found["temperature_max_K"] = "not entered: it bears on a nonmetallic insert alone"
        return found
    if check == "torque" and torque is not None:
        drag = ", with the nut's own drag" if joint.drag_nm else ""
        wrench = dict.fromkeys(("accuracy", "resolution"), str(torque.instrument_was.get("name")))
        asked = dict.fromkeys(("lo", "hi"), f"the torque asked for{drag}")
        read = f"torqued {torque.at.date().isoformat()} by {torque.by.name}"
        return wrench | asked | {"readings": read}
    if check == "compound" and joint.compound is not None:
        tin = f"entered with {joint.compound.name}"
        fields = ("expiry_day", "opened_day", "life_open_days", "stored_K", "storage_max_K")
        day = "the day of the torque" if joint.torqued_at else "today"
        return dict.fromkeys(fields, tin) | {"today_day": day}
    return {}


def _stocked(joint: Joint, part: str) -> str:
    item = getattr(joint, part)
    return f"in stock: {item.name}" if item else f"no {part} is entered"
