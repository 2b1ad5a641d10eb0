"""A loop between two quadrants in closed form: `cables.quadrant_loop`, a check of the loop."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated

from core.basis.refused import finite, positive
from core.basis.rules import rule
from core.cables.loop import CAUTION
from core.cables.words import STATICS


@dataclass(frozen=True)
class Quadrants:
    """Angle of the driven quadrant, rad; tensions, N; which sides are slack."""

    driven_rad: Annotated[float, "Where the driven lever stands."]
    tension_A_N: Annotated[float, "Side A."]
    tension_B_N: Annotated[float, "Side B."]
    slack: Annotated[tuple[str, ...], "Slack sides."]


@rule(
    "cables.quadrant_loop",
    title="A loop between quadrants",
    purpose="The same in closed form where the arms do not change.",
    source=STATICS,
    validity="Quadrants; side A pulls the driven one positive.",
    caution=CAUTION,
)
def quadrant_loop(
    driver_radius_m: Annotated[float, "Driver's quadrant."],
    driven_radius_m: Annotated[float, "Driven quadrant."],
    driver_rad: Annotated[float, "Angle of the driver."],
    tension_N: Annotated[float, "Rigged."],
    compliance_A_m_per_N: Annotated[float, "Give of side A with its share of the frame."],
    compliance_B_m_per_N: Annotated[float, "Give of side B with its share of the frame."],
    hinge_moment_Nm: Annotated[float, "By the surface on the driven quadrant."] = 0.0,
) -> Quadrants:
    """Side A pulls the driven quadrant positive; a moment on it stretches one side more."""
    r1, r2 = (
        positive(driver_radius_m, "driver_radius_m"),
        positive(driven_radius_m, "driven_radius_m"),
    )
    rigged = positive(tension_N, "tension_N")
    a = positive(compliance_A_m_per_N, "compliance_A_m_per_N")
    b = positive(compliance_B_m_per_N, "compliance_B_m_per_N")
    moment = finite(hinge_moment_Nm, "hinge_moment_Nm")
    drawn = r1 * finite(driver_rad, "driver_rad")
    driven = drawn / r2 + moment / r2**2 * a * b / (a + b)
    pulled_a = rigged + (drawn - r2 * driven) / a
    pulled_b = rigged - (drawn - r2 * driven) / b
    if pulled_a <= 0:
        return Quadrants(drawn / r2 + b * (moment / r2 - rigged) / r2, 0.0, moment / r2, ("A",))
    if pulled_b <= 0:
        return Quadrants(drawn / r2 + a * (moment / r2 + rigged) / r2, -moment / r2, 0.0, ("B",))
    return Quadrants(driven, pulled_a, pulled_b, ())
