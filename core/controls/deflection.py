"""A deflection with its uncertainty: what every way of measuring ends in."""

from __future__ import annotations

import math
from dataclasses import dataclass

from core.basis import verdicts
from core.basis.refused import Refused
from core.basis.uncertainty import Combined, Contribution, combine
from core.basis.verdicts import Verdict

RIGHT_ANGLE = math.pi / 2.0


@dataclass(frozen=True)
class Deflection:
    """A surface's angle about its hinge, rad, with the contributions to its uncertainty.

    `verdict` is None when no limit was given.
    """

    value: float
    combined: Combined
    parts: tuple[Contribution, ...]
    verdict: Verdict | None = None


def deflection(
    value: float,
    parts: tuple[Contribution, ...],
    lo: float | None = None,
    hi: float | None = None,
) -> Deflection:
    """Combine the contributions (rad) and judge against [lo, hi] (rad) if one is given."""
    combined = combine(parts)
    verdict = None
    if lo is not None or hi is not None:
        verdicts.limits(lo, hi)
        verdict = verdicts.judge(value, combined.U, lo, hi)
    return Deflection(value, combined, parts, verdict)


def under_right_angle(value: float, field: str) -> float:
    """The value; refuses a deflection of more than 90°."""
    if abs(value) > RIGHT_ANGLE + 1e-12:
        raise Refused(field, "differs from neutral by more than 90 degrees")
    return value
