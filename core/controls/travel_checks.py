"""Checks across readings: left against right, up against down, neutral from both sides."""

from __future__ import annotations

import math
from dataclasses import dataclass

from core.basis import verdicts
from core.basis.refused import not_negative, numbers, positive
from core.basis.surer import Part
from core.basis.uncertainty import Combined, Contribution, combine, of_repeats, of_resolution
from core.basis.verdicts import Verdict

# What hysteresis is made of.
STEPS, SPREAD = "the gauge's steps", "the spread of the readings"


@dataclass(frozen=True)
class Check:
    """A value derived from others with U at 95 % and its verdict; unit as the question's.

    margin: to the nearer limit, + inside. parts: what it is made of. k: how many standard
    uncertainties make U.
    """

    value: float
    U: float
    verdict: Verdict
    margin: float = math.inf
    parts: tuple[Part, ...] = ()
    k: float = 2.0


@dataclass(frozen=True)
class Repeatability:
    """Hysteresis and the neutral between both approaches, rad.

    parts: what the hysteresis is made of, the gauge's steps (in one step) and the spread.
    """

    hysteresis: float
    neutral: float
    combined: Combined
    verdict: Verdict
    parts: tuple[Part, ...] = ()


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
    verdict = verdicts.judge(difference, U, -tol, tol)
    sides = (Part("the left side", u_left), Part("the right side", u_right))
    return Check(difference, U, verdict, tol - abs(difference), sides)


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
    margin = min(r - lo if lo is not None else math.inf, hi - r if hi is not None else math.inf)
    ways = (Part("up", u_up, 1.0 / down), Part("down", u_down, up / down**2))
    return Check(r, U, verdicts.judge(r, U, lo, hi), margin, ways)


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
    spread = math.sqrt(math.fsum(p.u**2 for p in spreads))
    return Repeatability(
        hysteresis,
        (mean_above + mean_below) / 2.0,
        combined,
        verdicts.judge(hysteresis, combined.U, -limit, limit),
        (Part(STEPS, resolution, math.sqrt(2.0) * of_resolution(1.0)), Part(SPREAD, spread)),
    )
