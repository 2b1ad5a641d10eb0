"""How far a joint is secured, and whether its way of being secured is allowed.

`hardware.joint_state`, `hardware.safety_choice`. Sources: 14 CFR 23.607 (no self-locking
nut on a bolt subject to rotation without a nonfriction device), AC 43.13-1B ch. 7 (250 °F).
"""

from __future__ import annotations

from dataclasses import dataclass

from core.basis.refused import Refused, choice, positive
from core.basis.verdicts import Verdict

WITNESS = ("none", "whole", "broken")
STATES = ("open", "finger-tight", "snug", "torqued", "safetied", "sealed")
DEVICES = ("cotter", "wire", "tab", "self_locking", "adhesive", "none")
INSERTS = ("nonmetallic", "metal", "none")
NUT_KINDS = ("self_locking", "castellated", "nutplate", "plain", "none")
NONMETALLIC_MOST_K = 394.2611


@dataclass(frozen=True)
class Joint:
    """What was done to a joint, and what it needs."""

    installed: bool
    run_down: bool
    torqued: bool
    safety_needed: bool
    safetied: bool
    witness_needed: bool = False
    witness: str = "none"
    disturbed_since_torque: bool = False
    retorque_due: bool = False
    temporary: bool = False


@dataclass(frozen=True)
class JointState:
    """The state reached, and why it may not fly (empty: it may)."""

    state: str
    why: tuple[str, ...]

    @property
    def may_fly(self) -> bool:
        """Whether nothing stands in the way."""
        return not self.why


def joint_state(joint: Joint) -> JointState:
    """The securing state, and every reason why it is not final.

    Refuses an unknown witness, safetying or a witness mark without torque, and torque on
    what is not run down.
    """
    choice(joint.witness, WITNESS, "witness")
    if joint.safetied and not joint.torqued:
        raise Refused("safetied", "a joint that is not torqued cannot be safetied")
    if joint.witness != "none" and not joint.torqued:
        raise Refused("witness", "a witness mark goes on after torque")
    if joint.torqued and not (joint.installed and joint.run_down):
        raise Refused("torqued", "a joint that is not run down cannot be torqued")
    return JointState(_state(joint), tuple(_why(joint)))


def _state(j: Joint) -> str:
    if not j.installed:
        return "open"
    if not j.run_down:
        return "finger-tight"
    if not j.torqued:
        return "snug"
    if j.witness == "whole" and (j.safetied or not j.safety_needed):
        return "sealed"
    return "safetied" if j.safetied else "torqued"


def _why(j: Joint) -> list[str]:
    reasons = [
        (j.temporary, "left temporary"),
        (not j.torqued, "not torqued"),
        (j.safety_needed and not j.safetied, "not safetied"),
        (j.witness_needed and j.witness != "whole", "no whole witness mark"),
        (j.witness == "broken", "witness mark broken"),
        (j.disturbed_since_torque, "disturbed since torque"),
        (j.retorque_due, "re-torque due"),
    ]
    return [said for holds, said in reasons if holds]


@dataclass(frozen=True)
class Securing:
    """How a joint is to be kept from turning."""

    rotating: bool
    device: str
    nut: str
    bolt_drilled_shank: bool
    head_drilled: bool
    loss_prevents_safe_flight: bool
    temperature_max_K: float
    insert: str = "none"
    reused: bool = False
    finger_run: bool | None = None
    maker_allows_adhesive: bool = False


@dataclass(frozen=True)
class SafetyChoice:
    """In only without a reason; `note` for what may be needed beside it."""

    verdict: Verdict
    why: tuple[str, ...]
    note: str | None


def safety_choice(s: Securing) -> SafetyChoice:
    """May this joint be secured in this way?

    finger_run: whether a reused self-locking nut runs down by hand (None: not checked).
    temperature_max_K: the hottest it gets, K. Refuses unknown devices, nuts and inserts.
    """
    choice(s.device, DEVICES, "device")
    choice(s.nut, NUT_KINDS, "nut")
    choice(s.insert, INSERTS, "insert")
    positive(s.temperature_max_K, "temperature_max_K")
    why = tuple(_against(s))
    second = s.device == "self_locking" and not s.rotating and s.loss_prevents_safe_flight
    return SafetyChoice(
        Verdict.OUT if why else Verdict.IN,
        why,
        "a second retaining device may be required" if second else None,
    )


def _against(s: Securing) -> list[str]:
    castle = s.nut == "castellated"
    locking = s.device == "self_locking"
    reasons = [
        (s.device == "none", "nothing keeps it from turning"),
        (
            s.rotating and s.device in ("self_locking", "adhesive"),
            "bolt is a pivot: castellated nut and cotter pin",
        ),
        (
            s.device == "cotter" and not (castle and s.bolt_drilled_shank),
            "a cotter pin needs a castellated nut and a drilled bolt",
        ),
        (
            s.device == "wire" and not (s.head_drilled or castle),
            "safety wire needs a drilled head or a castellated nut",
        ),
        (locking and s.nut != "self_locking", "the nut is not self-locking"),
        (
            s.insert == "nonmetallic" and s.temperature_max_K > NONMETALLIC_MOST_K,
            "too hot for a nonmetallic insert",
        ),
        (
            locking and s.reused and s.finger_run is None,
            "measure the drag of the reused nut",
        ),
        (locking and s.reused and s.finger_run is True, "reused nut runs down by hand: replace"),
        (s.reused and s.device in ("cotter", "tab"), "use a new one"),
        (
            s.device == "adhesive" and not s.maker_allows_adhesive,
            "adhesive alone is not safetying unless the kit maker says so",
        ),
    ]
    return [said for holds, said in reasons if holds]
