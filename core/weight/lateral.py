"""The lateral limit (`weight.lateral_check`)."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Annotated, Literal

from core.basis.forms import Unit
from core.basis.refused import Refused, finite, not_negative, positive
from core.basis.verdicts import Verdict
from core.weight.words import GUM, SLACK, STATICS, rule


@dataclass(frozen=True)
class Lateral:
    """In m, or in kg·m where the limits are moments."""

    value: Annotated[float, "Lateral arm, or moment.", Unit("")]
    U: Annotated[float, "Its expanded uncertainty.", Unit("")]
    left_margin: Annotated[float | None, "Over the left limit.", Unit("")]
    right_margin: Annotated[float | None, "To the right limit.", Unit("")]
    verdict: Annotated[Verdict, "By the lesser margin."]


@rule(
    "weight.lateral_check",
    title="Lateral limit",
    purpose="Does the centre of gravity lie between the lateral limits?",
    source=f"{STATICS} {GUM}",
    validity="For all loadings take the most left and the most right of the worst cases.",
)
def lateral_check(
    y_m: Annotated[float, "To the right of the middle."],
    U_y_m: Annotated[float, "Its expanded uncertainty."],
    left_limit: Annotated[float | None, "m, or kg·m.", Unit("")] = None,
    right_limit: Annotated[float | None, "m, or kg·m.", Unit("")] = None,
    plane: Annotated[Literal["arm", "moment"], "What the limits are of."] = "arm",
    mass_kg: Annotated[float | None, "With limits of moment."] = None,
    U_mass_kg: Annotated[float | None, "With limits of moment."] = None,
) -> Lateral:
    """Refuses no limit, a left one that is not left of the right one, and limits of moment without
    the mass and its uncertainty."""
    y, u = finite(y_m, "y_m"), not_negative(U_y_m, "U_y_m")
    if left_limit is None and right_limit is None:
        raise Refused("left_limit", "give a left or a right limit")
    left = -math.inf if left_limit is None else finite(left_limit, "left_limit")
    right = math.inf if right_limit is None else finite(right_limit, "right_limit")
    if left >= right:
        raise Refused("left_limit", "must lie left of the right limit")
    if plane == "moment":
        if mass_kg is None:
            raise Refused("mass_kg", "is needed with limits of moment")
        if U_mass_kg is None:
            raise Refused("U_mass_kg", "is needed with limits of moment")
        m = positive(mass_kg, "mass_kg")
        u = math.hypot(m * u, y * not_negative(U_mass_kg, "U_mass_kg"))
        y = m * y
    least = min(y - left, right - y)
    slack = SLACK * max(1.0, abs(y))
    verdict = Verdict.TOO_CLOSE
    if least >= u - slack:
        verdict = Verdict.IN
    elif least < -u - slack:
        verdict = Verdict.OUT
    return Lateral(
        y, u, None if left_limit is None else y - left, None if right_limit is None else right - y,
        verdict,
    )  # fmt: skip
