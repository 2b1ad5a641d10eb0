"""Checks across readings: left against right, up against down, neutral from both sides."""

from __future__ import annotations

import math
from dataclasses import dataclass

from core.basis import verdicts
from core.basis.refused import not_negative, numbers, positive
from core.basis.uncertainty import Combined, Contribution, combine, of_repeats, of_resolution
from core.basis.verdicts import Verdict


@dataclass(frozen=True)
class Check:
    """A value derived from others with U at 95 % and its verdict; unit as the question's."""

    value: float
    U: float
    verdict: Verdict


@dataclass(frozen=True)
class Repeatability:
    """Hysteresis and the neutral between both approaches, rad."""

    hysteresis: float
    neutral: float
    combined: Combined
    verdict: Verdict


def symmetry(left: float, right: float, tol: float, u_left: float, u_right: float) -> Check:
    """Left minus right, rad (both magnitudes), against ± tol. `u_` standard, rad.

    Refuses negative magnitudes and tolerances.
    """
    for name, value in (("left", left), ("right", right), ("tol", tol)):
        not_negative(value, name)
    for name, value in (("u_left", u_left), ("u_right", u_right)):
        not_negative(value, name)
    difference = left - right
    U = 2.0 * math.hypot(u_left, u_right)
    return Check(difference, U, verdicts.judge(difference, U, -tol, tol))


def ratio(
    up: float, down: float, lo: float | None, hi: float | None, u_up: float, u_down: float
) -> Check:
    """Differential: up over down, without unit, against [lo, hi]. Angles and u in rad.

    Refuses angles that are not greater than zero.
    """
    positive(up, "up")
    positive(down, "down")
    not_negative(u_up, "u_up")
    not_negative(u_down, "u_down")
    verdicts.limits(lo, hi)
    r = up / down
    U = 2.0 * math.hypot(u_up / down, up * u_down / down**2)
    return Check(r, U, verdicts.judge(r, U, lo, hi))


def repeatability(
    from_above: tuple[float, ...], from_below: tuple[float, ...], limit: float, resolution: float
) -> Repeatability:
    """Neutral approached from above and from below, rad; the difference against ± limit.

    High hysteresis is friction or play: mend that before rigging. Refuses fewer than two
    readings from either side.
    """
    above = numbers(from_above, "from_above", at_least=2)
    below = numbers(from_below, "from_below", at_least=2)
    not_negative(limit, "limit")
    not_negative(resolution, "resolution")
    mean_above, mean_below = math.fsum(above) / len(above), math.fsum(below) / len(below)
    step = Contribution(of_resolution(resolution), None, "resolution")
    spreads = [p for p in (of_repeats(above), of_repeats(below)) if p]
    combined = combine([step, step, *spreads])
    hysteresis = mean_above - mean_below
    return Repeatability(
        hysteresis,
        (mean_above + mean_below) / 2.0,
        combined,
        verdicts.judge(hysteresis, combined.U, -limit, limit),
    )
