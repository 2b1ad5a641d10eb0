"""Must it turn or must it clamp? Fits of hole and shaft, floats, tilts and free play."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

from core.basis.forms import Named, OneOf
from core.basis.refused import Refused, choice, finite, not_negative, numbers, positive
from core.basis.rules import rule
from core.basis.verdicts import Verdict, judge, worst
from core.hardware.words import METROLOGY, TURN

NEEDS = ("turn", "slip", "press")
_ALIKE = 0.05


@dataclass(frozen=True)
class Fit:
    """Clearances, m; the class of fit; what to take off; whether pressing is a mistake."""

    clearance_m: Annotated[float, "Mean hole less mean shaft."]
    tightest_m: Annotated[float, "Least hole less greatest shaft."]
    loosest_m: Annotated[float, "Greatest hole less least shaft."]
    u_m: Annotated[float, "Combined standard uncertainty."]
    fit_class: Annotated[str, "clearance, transition or interference.", Named("class")]
    verdict: Annotated[Verdict, "In, out, too close or not measured."]
    remove_min_m: Annotated[float, "Take off at least, on the diameter."]
    remove_max_m: Annotated[float | None, "And at most; below the least: no amount is sure."]
    do_not_press: Annotated[bool, "It must turn or slip and would not."]


@rule(
    "hardware.fit",
    title="Must turn, slip or be pressed",
    purpose="Will it turn or clamp, and would pressing be a mistake?",
    source=f"Geometry; {METROLOGY} Fit limits are the maker's.",
    validity="Which part turns on which is a fact of the drawing.",
    caution=TURN,
)
def fit(
    hole_m: Annotated[Sequence[float], "Diameters of the hole, several places."],
    shaft_m: Annotated[Sequence[float], "Diameters of the shaft or bushing."],
    need: Annotated[str, "What it must do.", OneOf(("turn", "slip", "press"))],
    u_hole_m: Annotated[float, "Standard uncertainty of the hole."] = 0.0,
    u_shaft_m: Annotated[float, "Standard uncertainty of the shaft."] = 0.0,
    clear_min_m: Annotated[float | None, "The maker's least clearance."] = None,
    clear_max_m: Annotated[float | None, "The maker's greatest clearance."] = None,
) -> Fit:
    """What the measured diameters (m, several places each) make of a part that must turn,
    slip or be pressed, with standard uncertainties u of each.

    Limits: the maker's clearances, else [0, ∞) to turn or slip, (-∞, 0] to press. Material
    to take off is on the diameter. Refuses empty lists, hole and shaft more than 5 % apart,
    limits that contradict the need, and limits reversed.
    """
    holes = [positive(d, "hole_m") for d in numbers(hole_m, "hole_m")]
    shafts = [positive(d, "shaft_m") for d in numbers(shaft_m, "shaft_m")]
    u = math.hypot(not_negative(u_hole_m, "u_hole_m"), not_negative(u_shaft_m, "u_shaft_m"))
    choice(need, NEEDS, "need")
    hole, shaft = math.fsum(holes) / len(holes), math.fsum(shafts) / len(shafts)
    if abs(shaft - hole) > _ALIKE * hole:
        raise Refused("shaft_m", "differs from the hole by over 5 %: check the units or the part")
    lo, hi = _fit_limits(need, clear_min_m, clear_max_m)
    tightest, loosest = min(holes) - max(shafts), max(holes) - min(shafts)
    U = 2.0 * u
    kind = "transition"
    if tightest - U > 0:
        kind = "clearance"
    elif loosest + U < 0:
        kind = "interference"
    return Fit(
        clearance_m=hole - shaft,
        tightest_m=tightest,
        loosest_m=loosest,
        u_m=u,
        fit_class=kind,
        verdict=worst((judge(tightest, U, lo, hi), judge(loosest, U, lo, hi))),
        remove_min_m=0.0 if lo is None else max(0.0, lo + U - tightest),
        remove_max_m=None if hi is None else hi - U - loosest,
        do_not_press=need != "press" and kind != "clearance",
    )


def _fit_limits(
    need: str, low: float | None, high: float | None
) -> tuple[float | None, float | None]:
    if low is not None:
        finite(low, "clear_min_m")
    if high is not None:
        finite(high, "clear_max_m")
    if need == "press":
        if high is not None and high > 0:
            raise Refused("clear_max_m", "a press fit needs interference")
        high = 0.0 if high is None else high
    else:
        if low is not None and low < 0:
            raise Refused("clear_min_m", "a part that must turn or slide needs clearance")
        low = 0.0 if low is None else low
    if low is not None and high is not None and low > high:
        raise Refused("clear_min_m", "is above the greatest clearance")
    return low, high


@dataclass(frozen=True)
class SideFloat:
    """Side float of a lever, m, and its verdict."""

    float_m: Annotated[float, "Side float; negative: it will not turn."]
    verdict: Annotated[Verdict, "In, out, too close or not measured."]


@rule(
    "hardware.clamped_bushing",
    title="Lever on a clamped bushing",
    purpose="Does the lever keep its float when the bolt is tight?",
    source=f"Geometry; {METROLOGY}",
    validity="The bolt clamps the bushing, the lever turns on it.",
    caution="Negative float: the bolt clamps the lever and it will not turn.",
)
def clamped_bushing(
    bushing_length_m: Annotated[float, "Length of the clamped bushing."],
    turning_width_m: Annotated[float, "Width of what turns on it."],
    side_washers_m: Annotated[float, "Thrust washers beside it."] = 0.0,
    u_m: Annotated[float, "Standard uncertainty of the float."] = 0.0,
    float_min_m: Annotated[float, "Least float (default 0)."] = 0.0,
    float_max_m: Annotated[float | None, "Greatest float."] = None,
) -> SideFloat:
    """Side float of a lever on a clamped bushing, m, and its verdict.

    Negative: the bolt clamps the lever and it will not turn. u_m: standard uncertainty of
    the float. Refuses lengths not greater than zero and limits reversed.
    """
    positive(bushing_length_m, "bushing_length_m")
    positive(turning_width_m, "turning_width_m")
    not_negative(side_washers_m, "side_washers_m")
    not_negative(u_m, "u_m")
    if float_max_m is not None and finite(float_min_m, "float_min_m") > float_max_m:
        raise Refused("float_min_m", "is above the greatest float")
    gap = bushing_length_m - turning_width_m - side_washers_m
    return SideFloat(gap, judge(gap, 2.0 * u_m, float_min_m, float_max_m))


@dataclass(frozen=True)
class Tilt:
    """Whole tilt of a pin, rad, and the play at the lever's end, m."""

    tilt_rad: Annotated[float, "Whole tilt, both ways."]
    end_play_m: Annotated[float, "Sideways play at the lever's end."]


@rule(
    "hardware.tilt_play",
    title="Tilt of a pin in its bore",
    purpose="How far can the lever's end be moved sideways?",
    source="Geometry of a pin that touches opposite corners.",
    validity="Stiff parts; clearance up to a tenth of the length.",
)
def tilt_play(
    bore_m: Annotated[float, "Bore."],
    shaft_m: Annotated[float, "Pin."],
    length_m: Annotated[float, "Length of the bearing."],
    lever_m: Annotated[float, "Length of the lever."],
) -> Tilt:
    """Total tilt, rad, of a pin in a bore, and the sideways play at the lever's end, m.

    The pin tilts by a each way until it touches opposite corners: D cos a - B sin a = d.
    Refuses a shaft that is not smaller than the bore, and a clearance over a tenth of the
    length.
    """
    for name, value in (
        ("bore_m", bore_m),
        ("shaft_m", shaft_m),
        ("length_m", length_m),
        ("lever_m", lever_m),
    ):
        positive(value, name)
    if shaft_m >= bore_m:
        raise Refused("shaft_m", "must be smaller than the bore")
    if bore_m - shaft_m > 0.1 * length_m:
        raise Refused("length_m", "the clearance is over a tenth of the length: check the units")
    # The angle from the sine difference, which stays exact where the clearance is small.
    across = math.hypot(bore_m, length_m)
    a = math.asin(min(1.0, bore_m / across)) - math.asin(shaft_m / across)
    return Tilt(2.0 * a, 2.0 * lever_m * math.tan(a))


@dataclass(frozen=True)
class PlayJoint:
    """Diametral clearance, m, and movement at the surface's arm per movement here."""

    clearance_m: Annotated[float, "Diametral clearance."]
    ratio: Annotated[float, "Movement at the surface's arm for movement here."]


@dataclass(frozen=True)
class FreePlay:
    """Play at the arm, m, and at the surface, rad, total range; which joint has most."""

    worst_m: Annotated[float, "All play added, at the arm."]
    worst_rad: Annotated[float, "The same at the surface, total range."]
    likely_rad: Annotated[float, "Root of the sum of squares."]
    trailing_edge_m: Annotated[float, "At the trailing edge."]
    largest: Annotated[int, "Index of the joint with most play."]
    verdict: Annotated[Verdict, "In, out, too close or not measured."]


@rule(
    "hardware.free_play",
    title="Free play of a surface",
    purpose="How much play do all the joints add up to, and which should be mended first?",
    source=f"Geometry; {METROLOGY}",
    validity="Diametral clearances, stiff parts.",
    caution="Too much play can let a surface flutter: the kit maker's limit comes first.",
)
def free_play(
    joints: Annotated[Sequence[PlayJoint], "clearance_m and ratio of each."],
    driven_arm_m: Annotated[float, "Arm at the surface."],
    chord_m: Annotated[float, "Hinge line to trailing edge."],
    limit_rad: Annotated[float | None, "Your limit; none is shipped."] = None,
    u_rad: Annotated[float, "Standard uncertainty."] = 0.0,
) -> FreePlay:
    """Free play of a surface from the clearances of its chain of joints.

    worst: all added; likely: root of the sum of squares. limit_rad: the user's (none is
    shipped; None: not measured). u_rad: standard uncertainty. Refuses no joints, and play
    as large as the arm.
    """
    if not joints:
        raise Refused("joints", "needs at least one")
    positive(driven_arm_m, "driven_arm_m")
    positive(chord_m, "chord_m")
    not_negative(u_rad, "u_rad")
    shares = [
        abs(finite(j.ratio, "ratio")) * not_negative(j.clearance_m, "clearance_m") for j in joints
    ]
    total, likely = math.fsum(shares), math.hypot(*shares)
    if total > driven_arm_m:
        raise Refused("clearance_m", "the play is as large as the arm: check the units")
    angle = _angle(total, driven_arm_m)
    verdict = Verdict.NOT_MEASURED
    if limit_rad is not None:
        verdict = judge(angle, 2.0 * u_rad, None, positive(limit_rad, "limit_rad"))
    return FreePlay(
        worst_m=total,
        worst_rad=angle,
        likely_rad=_angle(likely, driven_arm_m),
        trailing_edge_m=2.0 * chord_m * math.sin(angle / 2.0),
        largest=shares.index(max(shares)),
        verdict=verdict,
    )


def _angle(play: float, arm: float) -> float:
    return 2.0 * math.asin(play / (2.0 * arm))
