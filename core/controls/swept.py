"""Deflection of a swept or canted hinge line from a stream-wise gauge (`controls.swept_gauge`).

The gauge stands in the vertical fore-and-aft plane and reads less than the surface turns
about its hinge. How much less depends on the practice: held in that plane against the skin,
or clamped along a line of skin and turning with it. For a level hinge and neutral at zero,
held: tan e = tan d cos L; fixed: sin e = sin d cos L.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Annotated

from core.basis.forms import DEG, OneOf
from core.basis.refused import Refused, choice, not_negative, within
from core.basis.uncertainty import Contribution
from core.controls.deflection import Deflection, deflection

PRACTICES = ("held_streamwise", "fixed_to_skin")
LIMIT = math.radians(85.0)
_STEP = 1e-6

Vector = tuple[float, float, float]


@dataclass(frozen=True)
class SweptGauge:
    """Hinge sweep (aft +) and dihedral, gauge elevation at neutral and now; all rad.

    The `u_` are standard uncertainties, rad.
    """

    sweep: Annotated[float, "Hinge line swept aft, -60 to 60.", DEG]
    reading: Annotated[float, "Gauge line now, -80 to 80.", DEG]
    practice: Annotated[
        str,
        "Held in the plane, or clamped to the skin.",
        OneOf(("held_streamwise", "fixed_to_skin")),
    ]
    dihedral: Annotated[float, "Hinge line's dihedral, -30 to 30.", DEG] = 0.0
    neutral: Annotated[float, "Gauge line at neutral, trailing edge up +, -45 to 45.", DEG] = 0.0
    u_reading: Annotated[float, "Standard uncertainty of the reading.", DEG] = 0.0
    u_neutral: Annotated[float, "Standard uncertainty of the neutral reading.", DEG] = 0.0
    u_sweep: Annotated[float, "Standard uncertainty of the sweep.", DEG] = 0.0


@dataclass(frozen=True)
class SweptDeflection:
    """The deflection about the hinge, what a plain difference would say, and the slope."""

    deflection: Annotated[Deflection, "Deflection about the hinge.", DEG]
    naive: Annotated[float, "Plain difference of the two readings.", DEG]
    per_reading: float
    per_neutral: float
    per_sweep: float


def swept_gauge(
    g: SweptGauge,
    lo: Annotated[float | None, "Low limit, if the result is to be judged.", DEG] = None,
    hi: Annotated[float | None, "High limit, if the result is to be judged.", DEG] = None,
) -> SweptDeflection:
    """Deflection about the hinge, rad, trailing edge up +, with propagated uncertainty.

    Refuses sweep over ±60°, dihedral over ±30°, neutral over ±45°, reading over ±80°, and a
    reading that no deflection within ±85° gives.
    """
    _check(g)
    value = _solve(g)
    slopes = {
        field: _slope(lambda x, f=field: _solve(_with(g, f, x)), getattr(g, field))  # type: ignore[misc]
        for field in ("reading", "neutral", "sweep")
    }
    parts = tuple(
        Contribution(abs(slope) * getattr(g, f"u_{field}"), None, field)
        for field, slope in slopes.items()
    )
    return SweptDeflection(
        deflection(value, parts, lo, hi),
        g.reading - g.neutral,
        slopes["reading"],
        slopes["neutral"],
        slopes["sweep"],
    )


def _check(g: SweptGauge) -> None:
    choice(g.practice, PRACTICES, "practice")
    for field, limit in (("sweep", 60), ("dihedral", 30), ("neutral", 45), ("reading", 80)):
        bound = math.radians(limit)
        within(getattr(g, field), -bound, bound, field, f"from -{limit} to {limit} degrees")
    for field in ("u_reading", "u_neutral", "u_sweep"):
        not_negative(getattr(g, field), field)


def _with(g: SweptGauge, field: str, value: float) -> SweptGauge:
    return replace(g, **{field: value})  # type: ignore[arg-type]


def _slope(f: Callable[[float], float], x: float) -> float:
    return (f(x + _STEP) - f(x - _STEP)) / (2.0 * _STEP)


def _solve(g: SweptGauge) -> float:
    """The deflection of least size within ±85° at which the gauge shows its reading."""
    ce, se = math.cos(g.neutral), math.sin(g.neutral)
    cs, ss = math.cos(g.sweep), math.sin(g.sweep)
    cd, sd = math.cos(g.dihedral), math.sin(g.dihedral)
    hinge: Vector = (ss * cd, cs * cd, sd)
    line: Vector = (ce, 0.0, se)
    roots = _fixed(g, hinge, line) if g.practice == "fixed_to_skin" else _held(g, hinge, line)
    inside = [r for r in roots if abs(r) <= LIMIT]
    if not inside:
        raise Refused("reading", "no deflection within 85 degrees gives this reading")
    return min(inside, key=abs)


def _fixed(g: SweptGauge, hinge: Vector, line: Vector) -> list[float]:
    """sin e = height of the line turned by -d about the hinge: a cos d + b sin d = c."""
    along = hinge[2] * _dot(hinge, line)
    a = line[2] - along
    b = -_cross(hinge, line)[2]
    c = math.sin(g.reading) - along
    size = math.hypot(a, b)
    if size == 0.0 or abs(c) > size:
        return []
    middle, spread = math.atan2(b, a), math.acos(c / size)
    return [_wrap(middle + spread), _wrap(middle - spread)]


def _held(g: SweptGauge, hinge: Vector, line: Vector) -> list[float]:
    """The turned skin's normal is square to the gauge line: one root in each half turn."""
    normal = _cross(line, hinge)
    gauge: Vector = (math.cos(g.reading), 0.0, math.sin(g.reading))
    a = _dot(gauge, normal)
    b = _dot(gauge, _cross(hinge, normal))
    root = math.atan2(a, b)
    return [_wrap(root), _wrap(root + math.pi)]


def _wrap(angle: float) -> float:
    return math.remainder(angle, 2.0 * math.pi)


def _dot(a: Vector, b: Vector) -> float:
    return a[0] * b[0] + a[1] * b[1] + a[2] * b[2]


def _cross(a: Vector, b: Vector) -> Vector:
    return (
        a[1] * b[2] - a[2] * b[1],
        a[2] * b[0] - a[0] * b[2],
        a[0] * b[1] - a[1] * b[0],
    )
