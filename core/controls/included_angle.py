"""Deflection from the angle between fixed and moving skin (`controls.included_angle`).

A template or an adjustable square across the hinge gap shows the included angle. Whether
positive deflection opens or closes it depends on the skin that it stands on.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Annotated

from core.basis.forms import DEG, MM, Named
from core.basis.refused import Refused, not_negative, positive, within
from core.basis.uncertainty import Contribution, rectangular
from core.controls.deflection import Deflection, deflection, under_right_angle

# +1 where positive deflection opens the angle, -1 where it closes it.
OPENS = {
    ("trailing_edge_up", "upper"): -1,
    ("trailing_edge_up", "lower"): +1,
    ("trailing_edge_down", "upper"): +1,
    ("trailing_edge_down", "lower"): -1,
    ("trailing_edge_right", "right"): -1,
    ("trailing_edge_right", "left"): +1,
}


@dataclass(frozen=True)
class Included:
    """Which way positive deflection goes, the skin, and the angle there at neutral, rad."""

    positive: Annotated[
        str,
        "Where positive deflection goes: trailing_edge_up, trailing_edge_down,"
        " trailing_edge_right.",
    ]
    skin: Annotated[str, "The skin that the template stands on: upper, lower, right, left."]
    neutral: Annotated[
        float, "Angle between the skins at neutral, 90 to 270.", Named("neutral_included"), DEG
    ]

    @property
    def opens(self) -> int:
        """+1 where positive deflection opens the angle, -1 where it closes it."""
        try:
            return OPENS[self.positive, self.skin]
        except KeyError:
            raise Refused(
                "skin", f"{self.skin} does not go with {self.positive.replace('_', ' ')}"
            ) from None


@dataclass(frozen=True)
class Fit:
    """How well the template is known and sits: accuracy half-width rad, u of the neutral
    angle rad, gap seen at the end of an arm m, length of that arm m."""

    accuracy: Annotated[float, "Accuracy of the template, half-width.", DEG] = 0.0
    neutral_u: Annotated[float, "Standard uncertainty of the neutral angle.", DEG] = 0.0
    gap: Annotated[float, "Gap seen at the end of an arm.", MM] = 0.0
    arm: Annotated[float | None, "Length of that arm.", MM] = None


def included_angle(
    skins: Included,
    included: Annotated[float, "Included angle now, 45 to 315.", DEG],
    fit: Fit = Fit(),
    lo: Annotated[float | None, "Low limit, if the result is to be judged.", DEG] = None,
    hi: Annotated[float | None, "High limit, if the result is to be judged.", DEG] = None,
) -> Deflection:
    """Signed deflection, rad, from the included angle, rad.

    Refuses angles outside 45° to 315° (neutral 90° to 270°), a skin that does not go with
    the direction, a gap without the arm's length, and a deflection over 90°.
    """
    _check(skins)
    within(included, math.radians(45), math.radians(315), "included", "from 45 to 315 degrees")
    value = under_right_angle(skins.opens * (included - skins.neutral), "included")
    return deflection(value, fit_parts(fit), lo, hi)


def included_for(skins: Included, deflection_rad: float) -> float:
    """The included angle, rad, that shows this deflection: what to cut the template to."""
    _check(skins)
    under_right_angle(deflection_rad, "deflection")
    return skins.neutral + skins.opens * deflection_rad


def fit_parts(fit: Fit) -> tuple[Contribution, ...]:
    """Contributions of the template's accuracy, the neutral angle and the gap seen, rad."""
    for field in ("accuracy", "neutral_u", "gap"):
        not_negative(getattr(fit, field), field)
    rock = 0.0
    if fit.gap > 0.0:
        if fit.arm is None:
            raise Refused("arm", "is needed with a gap")
        rock = math.atan(fit.gap / positive(fit.arm, "arm"))
    return (
        Contribution(rectangular(fit.accuracy), None, "accuracy of the template"),
        Contribution(fit.neutral_u, None, "neutral angle"),
        Contribution(rectangular(rock), None, "gap"),
    )


def _check(skins: Included) -> None:
    _ = skins.opens
    within(
        skins.neutral,
        math.radians(90),
        math.radians(270),
        "neutral_included",
        "from 90 to 270 degrees",
    )
