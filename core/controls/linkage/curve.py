"""A coupling given by points: smooth between them, straight beyond their ends."""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from typing import Any

import numpy as np
from scipy.interpolate import CubicSpline

from core.basis.refused import Refused, finite

LEAST_POINTS = 3


class Curve:
    """A cubic spline through rising points; a number or an array goes in and comes out."""

    def __init__(self, points: Sequence[Sequence[float]]) -> None:
        x = np.array([p[0] for p in points])
        y = np.array([p[1] for p in points])
        self.low, self.high = float(x[0]), float(x[-1])
        self.spline = CubicSpline(x, y)
        self.rate = self.spline.derivative()

    def at(self, x: Any) -> Any:
        """The value; beyond an end along that end's slope."""
        inside = np.clip(x, self.low, self.high)
        return self.spline(inside) + self.rate(inside) * (x - inside)

    def slope(self, x: Any) -> Any:
        """The slope; beyond an end that of the end."""
        return self.rate(np.clip(x, self.low, self.high))


def points_from(thing: Any, at: str) -> tuple[tuple[float, float], ...]:
    """Points of a curve from plain data; refuses too few and ones that do not rise."""
    if not isinstance(thing, (list, tuple)) or len(thing) < LEAST_POINTS:
        raise Refused(at, f"needs at least {LEAST_POINTS} points")
    found = []
    for p in thing:
        if not isinstance(p, (list, tuple)) or len(p) != 2:
            raise Refused(at, "must be pairs of numbers")
        found.append((finite(p[0], at), finite(p[1], at)))
    if any(b[0] <= a[0] for a, b in itertools.pairwise(found)):
        raise Refused(at, "must rise")
    return tuple(found)
