"""Vectors as three components, each a number or an array: they broadcast over a sweep."""

from __future__ import annotations

from typing import Any

import numpy as np

# A number or an array of them, any shape that broadcasts.
Num = Any
V = tuple[Num, Num, Num]


def plus(a: V, b: V) -> V:
    """a + b."""
    return (a[0] + b[0], a[1] + b[1], a[2] + b[2])


def minus(a: V, b: V) -> V:
    """a - b."""
    return (a[0] - b[0], a[1] - b[1], a[2] - b[2])


def times(k: Num, a: V) -> V:
    """k a."""
    return (k * a[0], k * a[1], k * a[2])


def dot(a: V, b: V) -> Num:
    """a · b."""
    return a[0] * b[0] + a[1] * b[1] + a[2] * b[2]


def cross(a: V, b: V) -> V:
    """a × b."""
    return (
        a[1] * b[2] - a[2] * b[1],
        a[2] * b[0] - a[0] * b[2],
        a[0] * b[1] - a[1] * b[0],
    )


def size(a: V) -> Num:
    """|a|."""
    return np.sqrt(dot(a, a))
