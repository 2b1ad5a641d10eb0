"""A loop between two quadrants in closed form: `cables.quadrant_loop`, a check of the loop."""

from __future__ import annotations

from dataclasses import dataclass

from core.basis.refused import finite, positive


@dataclass(frozen=True)
class Quadrants:
    """Angle of the driven quadrant, rad; tensions, N; which sides are slack."""

    driven_rad: float
    tension_A_N: float
    tension_B_N: float
    slack: tuple[str, ...]


def quadrant_loop(
    driver_radius_m: float,
    driven_radius_m: float,
    driver_rad: float,
    tension_N: float,
    compliance_A_m_per_N: float,
    compliance_B_m_per_N: float,
    hinge_moment_Nm: float = 0.0,
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
