"""A requirement against repeated readings: verdict, uncertainty, and what would settle it.

The value judged is y = c * mean + offset. Accuracy and resolution are rectangular with
infinite freedom; the spread of the readings has n - 1 degrees of freedom, so few readings
cost a large coverage factor. Averaging never reduces accuracy: that error is the same in
every reading. Sources: JCGM 100:2008 G.3-G.4, JCGM 106:2012, 8.3.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Annotated

from scipy.optimize import brentq
from scipy.special import ndtr, stdtr

from core.basis import verdicts
from core.basis.forms import Unit
from core.basis.refused import Refused, finite, not_negative, numbers
from core.basis.uncertainty import (
    Combined,
    Contribution,
    combine,
    of_resolution,
    rectangular,
    sample_deviation,
)
from core.basis.verdicts import SLACK, Verdict

MOST_REPEATS = 30
BOTH_REPEATS = 10
SPREAD_LIMIT = 3.0


@dataclass(frozen=True)
class Measurement:
    """Readings of one quantity and what is known of how they were taken.

    `readings`, `accuracy` (half-width), `resolution` (one step), `pooled_s` and the best
    instrument's figures share one unit; `offset` and `other` are in the unit of y.
    """

    readings: Annotated[tuple[float, ...], "The repeated readings."] = ()
    accuracy: Annotated[float, "Maker's limit of the instrument, half-width."] = 0.0
    resolution: Annotated[float, "One full step of the display or scale."] = 0.0
    sensitivity: Annotated[
        float, "Change of the value for each unit of the reading (default 1)."
    ] = 1.0
    offset: Annotated[float, "What is added to the mean of the readings."] = 0.0
    other: Annotated[
        tuple[Contribution, ...], "Other contributions {u, nu}, in the unit of the value."
    ] = ()
    pooled_s: Annotated[float | None, "Standard deviation known from earlier work.", Unit("")] = (
        None
    )
    pooled_dof: Annotated[float | None, "Its degrees of freedom."] = None
    best_accuracy: Annotated[float, "Accuracy of the best instrument at hand (0: unknown)."] = 0.0
    best_resolution: Annotated[float, "Its resolution."] = 0.0


@dataclass(frozen=True)
class Advice:
    """What would settle a value that is too close: `repeats`, `instrument`, `both`, `none`."""

    settles: Annotated[str, "repeats, instrument, both or none."]
    repeats_total: Annotated[int | None, "How many readings in all would settle it."]
    accuracy_needed: Annotated[float | None, "Instrument accuracy that would settle it."]


@dataclass(frozen=True)
class Judged:
    """The value with its uncertainty and verdict; `advice` only when too close."""

    y: float
    n: int
    combined: Combined
    margin: float
    verdict: Verdict
    p_inside: float
    single: bool
    spread_flag: bool
    can_never_be_in: bool
    parts: tuple[Contribution, ...]
    advice: Advice | None = None


@dataclass(frozen=True)
class _Spread:
    """The spread in use: standard deviation and, if pooled, its degrees of freedom."""

    s: float | None
    pooled_dof: float | None

    def part(self, n: int, sensitivity: float) -> Contribution | None:
        if self.s is None:
            return None
        dof = float(n - 1)
        if self.pooled_dof is not None and self.pooled_dof > dof:
            dof = self.pooled_dof
        return Contribution(abs(sensitivity) * self.s / math.sqrt(n), dof, "repeats")


def without_tolerance(verdict: Verdict) -> Verdict:
    """By a figure without a tolerance nothing is sure: In and Out are too close to call."""
    return Verdict.TOO_CLOSE if verdict in (Verdict.IN, Verdict.OUT) else verdict


def range_of(nominal: float, tol_plus: float, tol_minus: float) -> tuple[float, float]:
    """Limits from a nominal value and its tolerances (both ≥ 0)."""
    finite(nominal, "nominal")
    not_negative(tol_plus, "tol_plus")
    not_negative(tol_minus, "tol_minus")
    return nominal - tol_minus, nominal + tol_plus


def judge_readings(m: Measurement, lo: float | None, hi: float | None) -> Judged | None:
    """The readings of `m` against [lo, hi] (either None, not both); None without readings.

    Refuses limits the wrong way round, anything not finite, negative accuracy or
    resolution, and a pooled spread without its degrees of freedom.
    """
    verdicts.limits(lo, hi)
    _check(m)
    if not m.readings:
        return None
    n = len(m.readings)
    s = sample_deviation(m.readings)
    spread = _spread_in_use(m, s)
    parts = _parts(m, n, spread, m.accuracy, m.resolution)
    combined = combine(parts)
    y = m.sensitivity * math.fsum(m.readings) / n + m.offset
    verdict = verdicts.judge(y, combined.U, lo, hi)
    margin = verdicts.margin(y, lo, hi)
    instrument = math.sqrt(m.accuracy**2 / 3.0 + m.resolution**2 / 12.0)
    judged = Judged(
        y=y,
        n=n,
        combined=combined,
        margin=margin,
        verdict=verdict,
        p_inside=_p_inside(y, combined, lo, hi),
        single=spread.s is None,
        spread_flag=s is not None and s > SPREAD_LIMIT * instrument,
        can_never_be_in=lo is not None and hi is not None and hi - lo < 2.0 * combined.U,
        parts=parts,
    )
    if verdict is not Verdict.TOO_CLOSE:
        return judged
    return replace(judged, advice=_advise(m, n, spread, abs(margin)))


def _check(m: Measurement) -> None:
    numbers(m.readings, "readings", at_least=0)
    for field in ("accuracy", "resolution", "best_accuracy", "best_resolution"):
        not_negative(getattr(m, field), field)
    finite(m.sensitivity, "sensitivity")
    finite(m.offset, "offset")
    for i, part in enumerate(m.other):
        not_negative(part.u, f"other.{i}.u")
        if part.nu is not None and finite(part.nu, f"other.{i}.nu") <= 0:
            raise Refused(f"other.{i}.nu", "degrees of freedom must be greater than zero")
    if (m.pooled_s is None) != (m.pooled_dof is None):
        missing = "pooled_s" if m.pooled_s is None else "pooled_dof"
        raise Refused(missing, "a pooled spread needs both its size and its freedom")
    if m.pooled_s is not None and m.pooled_dof is not None:
        not_negative(m.pooled_s, "pooled_s")
        if finite(m.pooled_dof, "pooled_dof") <= 0:
            raise Refused("pooled_dof", "must be greater than zero")


def _spread_in_use(m: Measurement, s: float | None) -> _Spread:
    if m.pooled_dof is not None and m.pooled_dof > len(m.readings) - 1:
        return _Spread(m.pooled_s, m.pooled_dof)
    return _Spread(s, None)


def _parts(
    m: Measurement, n: int, spread: _Spread, accuracy: float, resolution: float
) -> tuple[Contribution, ...]:
    c = abs(m.sensitivity)
    parts = [
        Contribution(c * rectangular(accuracy), None, "accuracy"),
        Contribution(c * of_resolution(resolution), None, "resolution"),
    ]
    repeats = spread.part(n, m.sensitivity)
    return (*parts, *((repeats,) if repeats else ()), *m.other)


def _p_inside(y: float, c: Combined, lo: float | None, hi: float | None) -> float:
    if c.u == 0.0:
        return float((lo is None or y >= lo) and (hi is None or y <= hi))

    def share_below(limit: float) -> float:
        t = (limit - y) / c.u
        return float(ndtr(t) if c.nu_eff is None else stdtr(c.nu_eff, t))

    above = 1.0 if hi is None else share_below(hi)
    below = 0.0 if lo is None else share_below(lo)
    return above - below


def _advise(m: Measurement, n: int, spread: _Spread, width: float) -> Advice:
    """Which of more repeats, a better instrument or both brings U down to `width`."""

    def U(count: int, accuracy: float, resolution: float) -> float:
        return combine(_parts(m, count, spread, accuracy, resolution)).U

    enough = width + SLACK * max(1.0, width)
    repeats = None
    if spread.s:
        repeats = next(
            (k for k in range(n + 1, MOST_REPEATS + 1) if U(k, m.accuracy, m.resolution) <= enough),
            None,
        )
    accuracy = _accuracy_needed(
        lambda a: U(n, a, min(m.resolution, a)), m.accuracy, width, m.best_accuracy
    )
    if width == 0.0:
        settles = "none"
    elif repeats is not None:
        settles = "repeats"
    elif accuracy is not None:
        settles = "instrument"
    elif U(max(n, BOTH_REPEATS), m.best_accuracy, m.best_resolution) <= enough:
        settles = "both"
    else:
        settles = "none"
    return Advice(settles, repeats, accuracy)


def _accuracy_needed(
    U: Callable[[float], float], a: float, width: float, best: float
) -> float | None:
    """The greatest accuracy below `a` whose U equals `width`; None if there is none.

    U need not fall steadily with accuracy (k grows as the freedom shrinks), so the
    greatest root is looked for from the top down.
    """
    if a <= 0.0 or not U(0.0) < width < U(a):
        return None
    steps = 400
    high = a
    for i in range(steps - 1, -1, -1):
        low = a * i / steps
        if U(low) <= width:
            found = float(brentq(lambda x: U(x) - width, low, high, xtol=1e-15, rtol=1e-14))
            return found if found >= best else None
        high = low
    return None
