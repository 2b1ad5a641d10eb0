"""Vectors as three components, each a number or an array: they broadcast over a sweep."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Any

import numpy as np

from core.basis.refused import Refused, finite

# A number or an array of them, any shape that broadcasts.
Num = Any
Point = tuple[Num, Num, Num]
# Three plain numbers.
Vec = tuple[float, float, float]


def vec(value: Sequence[float], field: str) -> Vec:
    """Three finite numbers."""
    if not isinstance(value, (list, tuple)) or len(value) != 3:
        raise Refused(field, "must be three numbers: aft, right, up")
    return (finite(value[0], field), finite(value[1], field), finite(value[2], field))


def unit(value: Sequence[float], field: str) -> Vec:
    """A direction of length one; refuses one of length zero."""
    x, y, z = vec(value, field)
    long = math.sqrt(x * x + y * y + z * z)
    if long < 1e-12:
        raise Refused(field, "has length zero")
    return (x / long, y / long, z / long)


def plus(a: Point, b: Point) -> Point:
    """a + b."""
    return (a[0] + b[0], a[1] + b[1], a[2] + b[2])


def minus(a: Point, b: Point) -> Point:
    """a - b."""
    return (a[0] - b[0], a[1] - b[1], a[2] - b[2])


def times(k: Num, a: Point) -> Point:
    """k a."""
    return (k * a[0], k * a[1], k * a[2])


def dot(a: Point, b: Point) -> Num:
    """a · b."""
    return a[0] * b[0] + a[1] * b[1] + a[2] * b[2]


def cross(a: Point, b: Point) -> Point:
    """a × b."""
    return (
        a[1] * b[2] - a[2] * b[1],
        a[2] * b[0] - a[0] * b[2],
        a[0] * b[1] - a[1] * b[0],
    )


def size(a: Point) -> Num:
    """|a|."""
    return np.sqrt(dot(a, a))
