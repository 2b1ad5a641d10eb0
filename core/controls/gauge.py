"""Deflection as the difference of two angle-gauge readings (`controls.gauge_difference`).

The faces of angle gauges turn over at different places, or show no sign. Readings are
unwrapped to the first of their group before averaging; a face without sign needs the side
of level that was read, and is never guessed. Gravity gauges serve hinge lines near level.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

from core.basis.forms import DEG, OneOf
from core.basis.refused import Refused, choice, not_negative, numbers
from core.basis.uncertainty import Contribution, of_repeats, of_resolution, rectangular
from core.controls.deflection import Deflection, deflection, under_right_angle


@dataclass(frozen=True)
class Face:
    """Lowest and highest reading of a gauge's face and the period it repeats with, rad."""

    low: float
    high: float
    period: float | None
    said: str


FACES = {
    "full_360": Face(0.0, 2 * math.pi, 2 * math.pi, "0 to 360 degrees"),
    "plus_minus_180": Face(-math.pi, math.pi, 2 * math.pi, "-180 to 180 degrees"),
    "plus_minus_90": Face(-math.pi / 2, math.pi / 2, math.pi, "-90 to 90 degrees"),
    "quadrant_90": Face(0.0, math.pi / 2, None, "0 to 90 degrees"),
}


@dataclass(frozen=True)
class GaugeReadings:
    """Readings at neutral and at the position measured, rad, as the face shows them.

    `side`, `neutral_side`: +1 trailing edge above level, -1 below (quadrant face only).
    `sense`: +1 when the reading grows with positive deflection. `zeroed`: the gauge was set
    to zero at neutral, so there are no neutral readings.
    """

    face: Annotated[
        str,
        "How the gauge's face counts.",
        OneOf(("full_360", "plus_minus_180", "plus_minus_90", "quadrant_90")),
    ]
    readings: Annotated[tuple[float, ...], "Readings at the position.", DEG]
    neutral: Annotated[tuple[float, ...], "Readings at neutral.", DEG] = ()
    sense: Annotated[int, "+1: the reading grows with positive deflection."] = 1
    side: Annotated[int | None, "Quadrant face: +1 trailing edge above level, -1 below."] = None
    neutral_side: Annotated[int | None, "Quadrant face: side of level at neutral."] = None
    zeroed: Annotated[bool, "The gauge was set to zero at neutral."] = False
    accuracy: Annotated[float, "Maker's limit, half-width.", DEG] = 0.0
    resolution: Annotated[float, "One full step of the display or scale.", DEG] = 0.0


@dataclass(frozen=True)
class SideUnknown:
    """A sign was needed and not given: the deflections it could be, rad, sorted."""

    candidates: tuple[float, float]


def on_face(values: Sequence[float], face: str, field: str) -> tuple[float, ...]:
    """The readings; refuses one that this face cannot show."""
    choice(face, tuple(FACES), "face")
    f = FACES[face]
    for value in numbers(values, field):
        if not f.low - 1e-9 <= value <= f.high + 1e-9:
            raise Refused(field, f"this gauge's face shows {f.said}")
    return tuple(values)


def unwrapped(values: Sequence[float], face: str) -> tuple[float, ...]:
    """The readings moved by whole periods to lie nearest to the first of them, rad."""
    period = FACES[face].period
    if period is None:
        return tuple(values)
    first = values[0]
    return tuple(v - period * round((v - first) / period) for v in values)


def gauge_difference(
    g: GaugeReadings,
    lo: Annotated[float | None, "Low limit, if the result is to be judged.", DEG] = None,
    hi: Annotated[float | None, "High limit, if the result is to be judged.", DEG] = None,
) -> Deflection | SideUnknown:
    """Deflection from neutral, rad, signed by `sense`; candidates if a side is missing.

    Refuses readings off the face, neutral readings beside `zeroed` (or neither), a sense or
    side that is not ±1, and a difference of more than 90°.
    """
    _check(g)
    on_face(g.readings, g.face, "readings")
    if g.neutral:
        on_face(g.neutral, g.face, "neutral")
    at, start = unwrapped(g.readings, g.face), unwrapped(g.neutral, g.face) if g.neutral else ()
    if g.face == "quadrant_90":
        q, q0 = _mean(at), _mean(start) if start else 0.0
        if g.side is None or (g.neutral_side is None and q0 != 0.0):
            first, second = sorted((abs(q - q0), q + q0))
            return SideUnknown((first, second))
        at = tuple(g.side * v for v in at)
        start = tuple((g.neutral_side or 1) * v for v in start)
    return _difference(g, at, start, lo, hi)


def _check(g: GaugeReadings) -> None:
    choice(g.face, tuple(FACES), "face")
    not_negative(g.accuracy, "accuracy")
    not_negative(g.resolution, "resolution")
    for field in ("sense", "side", "neutral_side"):
        value = getattr(g, field)
        if value not in (1, -1) and not (value is None and field != "sense"):
            raise Refused(field, "must be 1 or -1")
    if g.zeroed and g.neutral:
        raise Refused("neutral", "a gauge set to zero at neutral has no neutral readings")
    if not g.zeroed and not g.neutral:
        raise Refused("neutral", "needs the readings at neutral, or a gauge set to zero there")


def _difference(
    g: GaugeReadings,
    at: tuple[float, ...],
    start: tuple[float, ...],
    lo: float | None,
    hi: float | None,
) -> Deflection:
    d = _mean(at) - (_mean(start) if start else 0.0)
    period = FACES[g.face].period
    if period is not None:
        d -= period * round(d / period)
    under_right_angle(d, "readings")
    return deflection(g.sense * d, gauge_parts(g, at, start), lo, hi)


def gauge_parts(
    g: GaugeReadings, at: tuple[float, ...], start: tuple[float, ...]
) -> tuple[Contribution, ...]:
    """Accuracy and resolution once for each group read, and the spread of each group.

    Zeroing is a reading too: it rounds to the resolution, while the gauge's error there is
    the zero itself.
    """
    parts: list[Contribution] = []
    for group, where in ((at, "here"), (start, "neutral")):
        if not group:
            continue
        parts.append(Contribution(rectangular(g.accuracy), None, f"accuracy, {where}"))
        parts.append(Contribution(of_resolution(g.resolution), None, f"resolution, {where}"))
        repeats = of_repeats(group, f"repeats, {where}")
        parts.extend([repeats] if repeats else [])
    if g.zeroed:
        parts.append(at_zero(g.resolution))
    return tuple(parts)


def at_zero(resolution: float) -> Contribution:
    """What setting a gauge to zero adds: one more rounding to its resolution, rad."""
    return Contribution(of_resolution(resolution), None, "resolution, zero at neutral")


def _mean(values: Sequence[float]) -> float:
    return math.fsum(values) / len(values)
