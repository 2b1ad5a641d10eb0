"""How far a joint is secured, and whether its way of being secured is allowed.

`hardware.joint_state`, `hardware.safety_choice`. Sources: 14 CFR 23.607 (no self-locking
nut on a bolt subject to rotation without a nonfriction device), AC 43.13-1B ch. 7 (250 °F).
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated

from core.basis.refused import Refused, choice, positive
from core.basis.rules import rule
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
    safety_needed: bool = False
    safetied: bool = False
    witness_needed: bool = False
    witness: str = "none"
    disturbed_since_torque: bool = False
    retorque_due: bool = False
    temporary: bool = False
    device_said: Annotated[bool, "It is said what keeps it from turning (a nut alone counts)."] = (
        True
    )


@dataclass(frozen=True)
class JointState:
    """The state reached, and why it may not fly (empty: it may)."""

    state: Annotated[str, "open, finger-tight, snug, torqued, safetied, sealed."]
    may_fly: Annotated[bool, "Nothing stands in the way."]
    why: Annotated[tuple[str, ...], "Every reason why not."]


@rule(
    "hardware.joint_state",
    title="Is the joint final?",
    purpose="How far is the joint secured, and what keeps it from flying?",
    source="This product's order of work; safetying after AC 43.13-1B ch. 7.",
    validity="Any loosening clears torque, safetying and the witness mark.",
)
def joint_state(joint: Annotated[Joint, "What was done and what it needs."]) -> JointState:
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
    why = tuple(_why(joint))
    return JointState(_state(joint), not why, why)


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
        (not j.device_said, "what secures it is not said"),
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

    rotating: Annotated[bool, "The bolt is a pivot."]
    device: Annotated[str, "cotter, wire, tab, self_locking, adhesive, none."]
    nut: Annotated[str, "self_locking, castellated, nutplate, plain."]
    bolt_drilled_shank: Annotated[bool, "Shank drilled for a pin."]
    head_drilled: Annotated[bool, "Head drilled for wire."]
    loss_prevents_safe_flight: Annotated[bool, "Losing it ends the flight."]
    temperature_max_K: Annotated[float, "The hottest it gets."]
    insert: Annotated[str, "nonmetallic, metal, none."] = "none"
    reused: Annotated[bool, "Nut, pin or tab used before."] = False
    finger_run: Annotated[bool | None, "A reused nut runs down by hand."] = None
    maker_allows_adhesive: Annotated[bool, "The kit maker allows adhesive alone."] = False


@dataclass(frozen=True)
class SafetyChoice:
    """In only without a reason; `note` for what may be needed beside it."""

    verdict: Annotated[Verdict, "In, out, too close or not measured."]
    why: Annotated[tuple[str, ...], "Every reason against it."]
    note: Annotated[str | None, "What may be needed beside it."]


@rule(
    "hardware.safety_choice",
    title="Safetying",
    purpose="May this joint be secured in this way?",
    source="14 CFR 23.607; AC 43.13-1B ch. 7 (250 °F for nonmetallic inserts).",
    validity="Least drag of reused nuts by size: from your source.",
    caution="A pivot bolt held by friction alone can back off in flight.",
)
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
