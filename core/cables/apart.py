"""How near two cables of a loop come to each other: their runs as chains of straight pieces."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

from core.basis.vectors import Vec, dot, minus, plus, times

# A piece of a run that is shorter than this is a point, m.
POINT_M = 1e-9


@dataclass(frozen=True)
class Apart:
    """The least distance of two runs, centre to centre, m, and the middle of where it is."""

    distance_m: float
    at: Vec


def apart(one: Sequence[Vec], other: Sequence[Vec]) -> Apart:
    """Where two runs come nearest to each other; each is a row of two points or more, m."""
    pairs = ((p, q) for p in pairwise(one) for q in pairwise(other))
    found = (_nearest(p[0], p[1], q[0], q[1]) for p, q in pairs)
    a, b = min(found, key=lambda ab: math.dist(*ab))
    return Apart(math.dist(a, b), (_half(a[0], b[0]), _half(a[1], b[1]), _half(a[2], b[2])))


def _half(a: float, b: float) -> float:
    return (a + b) / 2.0


def _nearest(a: Vec, b: Vec, c: Vec, d: Vec) -> tuple[Vec, Vec]:
    """The points of the piece a-b and of the piece c-d that are nearest to each other."""
    ends = [(a, _onto(a, c, d)), (b, _onto(b, c, d)), (_onto(c, a, b), c), (_onto(d, a, b), d)]
    u, v, w = minus(b, a), minus(d, c), minus(a, c)
    uu, uv, vv = (float(dot(x, y)) for x, y in ((u, u), (u, v), (v, v)))
    flat = uu * vv - uv * uv
    if flat > POINT_M**2 * max(uu, vv):
        s = (uv * float(dot(v, w)) - vv * float(dot(u, w))) / flat
        t = (uu * float(dot(v, w)) - uv * float(dot(u, w))) / flat
        if 0.0 <= s <= 1.0 and 0.0 <= t <= 1.0:
            ends.append((_along(a, u, s), _along(c, v, t)))
    return min(ends, key=lambda ab: math.dist(*ab))


def _onto(p: Vec, a: Vec, b: Vec) -> Vec:
    """The point of the piece a-b that is nearest to p."""
    u = minus(b, a)
    long = float(dot(u, u))
    if long <= POINT_M**2:
        return a
    return _along(a, u, min(1.0, max(0.0, float(dot(minus(p, a), u)) / long)))


def _along(a: Vec, u: object, s: float) -> Vec:
    x, y, z = plus(a, times(s, u))  # type: ignore[arg-type]
    return (float(x), float(y), float(z))
