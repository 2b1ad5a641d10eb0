"""Scales away from where they were calibrated (`weight.local_gravity`)."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Annotated

from core.basis.forms import Unit
from core.basis.refused import Refused, finite, positive
from core.weight.words import MassFraction, rule

Gravity = Annotated[float, Unit("m/s²")]


@dataclass(frozen=True)
class Where:
    """A place: its gravity from a certificate, or its latitude and height."""

    latitude_rad: Annotated[float | None, "North positive."] = None
    height_m: Annotated[float, "Over the sea."] = 0.0
    g_m_s2: Annotated[Gravity | None, "From a certificate; wins."] = None


@dataclass(frozen=True)
class Local:
    """What the scale's factor becomes here."""

    g_calibrated_m_s2: Annotated[Gravity, "Where it was calibrated."]
    g_here_m_s2: Annotated[Gravity, "Here."]
    ratio: Annotated[MassFraction, "Of the first to the second."]
    factor: Annotated[MassFraction, "For weighing here."]


@rule(
    "weight.local_gravity",
    title="Scales away from where they were calibrated",
    purpose="How wrong does a scale show that was calibrated elsewhere?",
    source="Normal gravity, 1967 formula, and the free-air term; good to about 1e-4.",
    validity="Scales that weigh by force (load cells, springs), not beam balances. A scale set to"
    " zero and span here with a known mass needs none of this.",
)
def local_gravity(
    calibrated_at: Annotated[Where, "Where its span was set."],
    here: Annotated[Where, "Where it stands now."],
    factor: Annotated[MassFraction, "Of its calibration."] = 1.0,
) -> Local:
    """The error is common to all scales: mass changes, arm does not. Refuses a latitude beyond a
    pole, gravity or factor not above zero."""
    there, now = _gravity(calibrated_at, "calibrated_at"), _gravity(here, "here")
    ratio = there / now
    return Local(there, now, ratio, positive(factor, "factor") * ratio)


def _gravity(w: Where, at: str) -> float:
    if w.g_m_s2 is not None:
        return positive(w.g_m_s2, f"{at}.g_m_s2")
    if w.latitude_rad is None:
        raise Refused(f"{at}.latitude_rad", "is needed, or gravity from a certificate")
    latitude = finite(w.latitude_rad, f"{at}.latitude_rad")
    if abs(latitude) > math.pi / 2.0 + 1e-12:
        raise Refused(f"{at}.latitude_rad", "is beyond a pole")
    s, twice = math.sin(latitude) ** 2, math.sin(2.0 * latitude) ** 2
    normal = 9.780327 * (1.0 + 0.0053024 * s - 0.0000058 * twice)
    return positive(normal - 3.086e-6 * finite(w.height_m, f"{at}.height_m"), f"{at}.height_m")
