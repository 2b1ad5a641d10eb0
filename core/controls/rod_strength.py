"""Does a push-pull rod buckle under the pilot's limit load?

Euler and Johnson columns (any text on the strength of materials). Ultimate factor 1.5:
14 CFR 23.303, old amendment. Not covered: bent or dented rods, off-centre ends, rod ends
and bolts, swaged ends thinner than the tube, joint wear factors (14 CFR 23.693), vibration.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Annotated

from core.basis.forms import GPA, MM, MM2, MM4, MPA, Named
from core.basis.refused import Refused, finite, positive
from core.basis.verdicts import Verdict

ULTIMATE_FACTOR = 1.5
MOST_SLENDER_WALL = 50.0


@dataclass(frozen=True)
class Tube:
    """A rod's tube: m, Pa. `length` between ball centres; `K` 1 for pinned ends."""

    od: Annotated[float, "Outside diameter.", MM]
    wall: Annotated[float, "Wall.", MM]
    length: Annotated[float, "Ball centre to ball centre.", MM]
    E: Annotated[float, "Modulus, from the material's data.", GPA]
    Fcy: Annotated[float, "Compressive yield, from the material's data.", MPA]
    K: Annotated[float, "Effective length factor, 1 = pinned (default)."] = 1.0


@dataclass(frozen=True)
class Strength:
    """Section (m², m⁴, m), slenderness, loads (N); in when `reserve` is 1 or more."""

    area: Annotated[float, "Section.", MM2]
    inertia: Annotated[float, "Second moment of area.", MM4]
    gyration: Annotated[float, "Radius of gyration.", MM]
    slenderness: Annotated[float, "K L / r."]
    slenderness_limit: Annotated[float, "Where Euler begins."]
    regime: Annotated[str, "Euler or Johnson."]
    critical: Annotated[float, "Buckling load.", Named("critical_N")]
    limit: Annotated[float, "Limit load.", Named("limit_N")]
    ultimate: Annotated[float, "Ultimate load.", Named("ultimate_N")]
    reserve: Annotated[float, "Buckling load over ultimate load."]
    verdict: Annotated[Verdict, "In, out, too close or not measured."]


def rod_load(pilot_force: float, grip_arm: float, rod_arm: float) -> float:
    """Load in the rod, N: force at the grip x grip arm / least rod arm (m)."""
    return (
        positive(pilot_force, "pilot_force")
        * positive(grip_arm, "grip_arm")
        / positive(rod_arm, "rod_arm")
    )


def rod_strength(
    tube: Tube,
    rod_limit: float,
    ultimate_factor: Annotated[float, "1.5 or more (default 1.5)."] = ULTIMATE_FACTOR,
    special_factor: Annotated[float, "1 or more (default 1)."] = 1.0,
) -> Strength:
    """Buckling load against the ultimate load.

    rod_limit: limit load in the rod, N. Refuses a wall over half the diameter, a tube so thin
    that it cripples locally (D/wall over 50), an ultimate factor under 1.5, a special factor
    or K under 1.
    """
    for name in ("od", "wall", "length", "E", "Fcy"):
        positive(getattr(tube, name), name)
    if tube.wall > tube.od / 2.0:
        raise Refused("wall", "is more than half the diameter")
    if tube.od / tube.wall > MOST_SLENDER_WALL * (1 + 1e-12):
        raise Refused("wall", "diameter over wall is above 50: local crippling is not covered")
    if finite(tube.K, "K") < 1.0:
        raise Refused("K", "must be 1 (pinned) or more")
    if finite(ultimate_factor, "ultimate_factor") < ULTIMATE_FACTOR:
        raise Refused("ultimate_factor", "must be 1.5 or more")
    if finite(special_factor, "special_factor") < 1.0:
        raise Refused("special_factor", "must be 1 or more")
    inner = tube.od - 2.0 * tube.wall
    area = math.pi * (tube.od**2 - inner**2) / 4.0
    inertia = math.pi * (tube.od**4 - inner**4) / 64.0
    gyration = math.sqrt(inertia / area)
    slender = tube.K * tube.length / gyration
    limit = math.pi * math.sqrt(2.0 * tube.E / tube.Fcy)
    euler = slender >= limit
    stress = (
        math.pi**2 * tube.E / slender**2
        if euler
        else tube.Fcy * (1.0 - tube.Fcy * slender**2 / (4.0 * math.pi**2 * tube.E))
    )
    ultimate = positive(rod_limit, "rod_limit") * ultimate_factor * special_factor
    reserve = stress * area / ultimate
    return Strength(
        area=area,
        inertia=inertia,
        gyration=gyration,
        slenderness=slender,
        slenderness_limit=limit,
        regime="Euler" if euler else "Johnson",
        critical=stress * area,
        limit=rod_limit,
        ultimate=ultimate,
        reserve=reserve,
        verdict=Verdict.IN if reserve >= 1.0 - 1e-12 else Verdict.OUT,
    )
