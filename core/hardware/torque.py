"""Torque at the nut and on the wrench, and castellated nuts that must meet a hole.

Source of the shipped rows: AC 43.13-1B Table 7-1; of adding the drag: AC 43.13-1B ch. 7.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

from core.basis.forms import Named, OneOf
from core.basis.quantities import to_si
from core.basis.reference import table
from core.basis.refused import Refused, choice, finite, not_negative, positive
from core.basis.rules import rule
from core.basis.verdicts import Verdict
from core.hardware.words import CHAPTER_7

NUT_TYPES = ("tension", "shear")
_LEAST_LEVER = 0.25


@dataclass(frozen=True)
class TorqueSetting:
    """What the nut must get and what the wrench is set to, N·m."""

    at_nut_low_Nm: Annotated[float, "Low end at the nut."]
    at_nut_high_Nm: Annotated[float, "High end at the nut."]
    set_low_Nm: Annotated[float, "Wrench set to, low."]
    set_high_Nm: Annotated[float, "Wrench set to, high."]


def shipped_range(thread: str, nut_type: str) -> tuple[float, float]:
    """The shipped range, N·m. Refuses a thread or nut type without a row."""
    rows = table("torque")["rows"]
    if thread not in rows:
        raise Refused("thread", "no shipped row; enter the range from your source")
    choice(nut_type, NUT_TYPES, "nut_type")
    low, high = rows[thread][nut_type]
    return to_si(low, "inlb", "torque"), to_si(high, "inlb", "torque")


def at_nut(low_Nm: float, high_Nm: float, drag_Nm: float) -> tuple[float, float]:
    """What the nut must get: the range, and its own drag added to both ends, N·m.

    Refuses a negative drag. Source: AC 43.13-1B ch. 7.
    """
    not_negative(drag_Nm, "drag_Nm")
    return low_Nm + drag_Nm, high_Nm + drag_Nm


@rule(
    "hardware.torque_setting",
    title="Torque on the wrench",
    purpose="What is the wrench set to, with the nut's own drag and an extension?",
    source="AC 43.13-1B Table 7-1 and ch. 7 (the nut's drag is added).",
    validity="Shipped rows: fine thread, oil-free cadmium plate. Lubricated, coarse, other"
    " plating: "
    "enter the range from your source.",
    caution="The kit maker's value comes first. Never over-torque to line up a hole.",
)
def torque_setting(
    wrench_m: Annotated[float, "Drive centre to the point of the hand."],
    thread: Annotated[str, "Such as 1/4-28."] = "",
    nut_type: Annotated[
        str, "Loaded in tension or shear.", OneOf(("tension", "shear"))
    ] = "tension",
    drag_Nm: Annotated[float, "Torque to turn the nut before it seats."] = 0.0,
    extension_m: Annotated[float, "Length of an extension across the drive."] = 0.0,
    extension_angle_rad: Annotated[float, "Its angle to the wrench line."] = 0.0,
    low_Nm: Annotated[float | None, "Your own range: low end."] = None,
    high_Nm: Annotated[float | None, "Your own range: high end."] = None,
) -> TorqueSetting:
    """Torque at the nut (range + drag) and the wrench setting with an extension, N·m.

    wrench_m: drive centre to the point of the hand; extension_m at extension_angle_rad to
    the wrench line (0 straight out, π folded back). low_Nm and high_Nm: the user's own
    range, both or neither (then the shipped row of thread and nut type). Refuses a negative
    drag, one limit without the other, and an extension that folds back over the wrench.
    """
    if low_Nm is None and high_Nm is None:
        low, high = shipped_range(thread, nut_type)
    elif low_Nm is None or high_Nm is None:
        raise Refused("low_Nm" if low_Nm is None else "high_Nm", "give both ends of the range")
    else:
        low, high = positive(low_Nm, "low_Nm"), positive(high_Nm, "high_Nm")
        if low > high:
            raise Refused("low_Nm", "is above the high end")
    positive(wrench_m, "wrench_m")
    not_negative(extension_m, "extension_m")
    finite(extension_angle_rad, "extension_angle_rad")
    lever = wrench_m + extension_m * math.cos(extension_angle_rad)
    if lever < _LEAST_LEVER * wrench_m:
        raise Refused("extension_m", "the extension folds back over the wrench; use a socket")
    share = wrench_m / lever
    at_low, at_high = at_nut(low, high, drag_Nm)
    return TorqueSetting(at_low, at_high, at_low * share, at_high * share)


@dataclass(frozen=True)
class Castle:
    """What to do with a castellated nut at a slot."""

    verdict: Annotated[Verdict, "In, out, too close or not measured."]
    do: Annotated[str, "What to do."]


@rule(
    "hardware.castle_align",
    title="Castellated nut at the slot",
    purpose="Slot and hole meet: fit the pin, go on, or change the washer?",
    source=CHAPTER_7,
    validity="Tighten to the low end, then on to the next slot.",
    caution="Never back off to line up; never over-torque.",
)
def castle_align(
    torque_at_slot_Nm: Annotated[float | None, "Torque there; null if the high end came first."],
    low_Nm: Annotated[float, "Low end of the range."],
    high_Nm: Annotated[float, "High end of the range."],
) -> Castle:
    """What to do with a castellated nut at the slot it reached; never back off to line up.

    torque_at_slot_Nm: torque at which slot and hole met, N·m; None if the high end came
    first. Refuses limits the wrong way round. Source: AC 43.13-1B ch. 7.
    """
    positive(low_Nm, "low_Nm")
    if positive(high_Nm, "high_Nm") < low_Nm:
        raise Refused("low_Nm", "is above the high end")
    if torque_at_slot_Nm is None or positive(torque_at_slot_Nm, "torque_at_slot_Nm") > high_Nm:
        return Castle(Verdict.OUT, "change washer")
    if torque_at_slot_Nm < low_Nm:
        return Castle(Verdict.OUT, "tighten on to the next slot")
    return Castle(Verdict.IN, "fit the pin")


@rule(
    "hardware.castle_washer_swap",
    title="Another washer under a castellated nut",
    purpose="Which washer brings the slot nearest to the hole?",
    source="Geometry of the thread.",
    validity="Right-hand thread; washers of the same hardness.",
)
def castle_washer_swap(
    angle_to_slot_rad: Annotated[float, "Angle to the next slot now."],
    pitch_m: Annotated[float, "Thread pitch."],
    fitted_m: Annotated[float, "Washer fitted now."],
    stock_m: Annotated[Sequence[float], "Thicknesses in stock."],
    slots: Annotated[int, "Slots of the nut (default 6)."] = 6,
) -> Annotated[
    tuple[tuple[float, float], ...],
    "[thickness m, angle rad], least angle first.",
    Named("options"),
]:
    """With each stocked washer: (thickness m, angle to the next slot rad), least angle first.

    angle_to_slot_rad: now, with the washer of thickness fitted_m. Refuses an angle outside
    [0, 2π/slots), an empty stock, fewer than three slots.
    """
    positive(pitch_m, "pitch_m")
    positive(fitted_m, "fitted_m")
    if slots < 3:
        raise Refused("slots", "must be three or more")
    sector = 2.0 * math.pi / slots
    if not 0.0 <= finite(angle_to_slot_rad, "angle_to_slot_rad") < sector:
        raise Refused("angle_to_slot_rad", f"must be from 0 to under {sector:.4f} rad")
    if not stock_m:
        raise Refused("stock_m", "needs the thicknesses in stock")
    found = []
    for t in stock_m:
        turned = 2.0 * math.pi * (positive(t, "stock_m") - fitted_m) / pitch_m
        angle = (angle_to_slot_rad + turned) % sector
        found.append((t, 0.0 if sector - angle < 1e-9 else angle))
    return tuple(sorted(found, key=lambda f: (f[1], f[0])))
