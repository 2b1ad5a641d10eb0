"""Straight pieces in space: how far apart, and how much of one lies near another."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterable, Sequence

from core.basis.refused import Refused
from core.basis.vectors import cross, dot, minus, vec

Point = tuple[float, float, float]
Piece = tuple[Point, Point]
Line = list[Piece]
FLAT = 1e-14


def line(points: Sequence[Sequence[float]], field: str = "points_m", at_least: int = 2) -> Line:
    """The pieces between points; of a single one a piece without length."""
    if len(points) < at_least:
        raise Refused(field, f"needs at least {at_least} points")
    at = [vec(p, field) for p in points]
    return list(itertools.pairwise(at)) or [(at[0], at[0])]


def length(piece: Piece) -> float:
    """Of a piece, m."""
    return math.dist(*piece)


def to_piece(p: Point, piece: Piece) -> float:
    """From a point to a piece, m."""
    return math.dist(p, _on(p, piece))


def distance(a: Piece, b: Piece) -> float:
    """Between two pieces, m: the least of their ends' and, where they cross, of their insides'."""
    found = min(to_piece(a[0], b), to_piece(a[1], b), to_piece(b[0], a), to_piece(b[1], a))
    if _passing(a, b) is not None:
        n = cross(minus(a[1], a[0]), minus(b[1], b[0]))
        found = min(found, abs(dot(minus(a[0], b[0]), n)) / math.sqrt(dot(n, n)))
    return found


def _passing(a: Piece, b: Piece) -> tuple[float, float] | None:
    """The shares of two pieces at which their insides come nearest; None where their ends do."""
    u, v, w = minus(a[1], a[0]), minus(b[1], b[0]), minus(a[0], b[0])
    uu, vv, uv = dot(u, u), dot(v, v), dot(u, v)
    area = uu * vv - uv * uv
    if area <= FLAT * uu * vv:
        return None
    s = (uv * dot(v, w) - vv * dot(u, w)) / area
    t = (uu * dot(v, w) - uv * dot(u, w)) / area
    return (s, t) if 0.0 <= s <= 1.0 and 0.0 <= t <= 1.0 else None


def nearest(a: Line, b: Line) -> tuple[float, Point, Point, float]:
    """How near two lines come, m; where on each; the angle between their pieces there, rad."""
    found: tuple[float, Point, Point, float] | None = None
    for p in a:
        for q in b:
            here = _nearest(p, q)
            if found is None or here[0] < found[0]:
                found = (*here, _angle(p, q))
    if found is None:
        raise Refused("points_m", "needs at least 2 points")
    return found


def _nearest(a: Piece, b: Piece) -> tuple[float, Point, Point]:
    pairs = [(p, _on(p, b)) for p in a] + [(_on(p, a), p) for p in b]
    if (shares := _passing(a, b)) is not None:
        s, t = shares
        pairs.append((_at(a[0], minus(a[1], a[0]), s), _at(b[0], minus(b[1], b[0]), t)))
    far, p, q = min(((math.dist(p, q), p, q) for p, q in pairs), key=lambda x: x[0])
    return far, p, q


def _on(p: Point, piece: Piece) -> Point:
    """The point of a piece that is nearest to another point."""
    d = minus(piece[1], piece[0])
    square = dot(d, d)
    t = min(1.0, max(0.0, dot(minus(p, piece[0]), d) / square)) if square > 0.0 else 0.0
    return _at(piece[0], d, t)


def _angle(a: Piece, b: Piece) -> float:
    """Between the directions of two pieces, 0 to a quarter turn."""
    u, v = minus(a[1], a[0]), minus(b[1], b[0])
    return math.atan2(math.hypot(*cross(u, v)), abs(dot(u, v)))


def near(start: Point, way: Point, piece: Piece, within: float) -> tuple[float, float] | None:
    """From where to where start + t way lies within a distance of a piece (one stretch, for what
    lies near a piece is convex); None: nowhere, or only touching."""
    roots = [t for end in piece for t in _sphere(minus(start, end), way, within)]
    axis = minus(piece[1], piece[0])
    square = dot(axis, axis)
    if square > 0.0:
        roots += _tube(minus(start, piece[0]), way, axis, square, within)
    on_it = [t for t in roots if to_piece(_at(start, way, t), piece) <= within * (1 + 1e-9) + 1e-15]
    if len(on_it) < 2 or min(on_it) == max(on_it):
        return None
    return min(on_it), max(on_it)


def _at(start: Point, way: Point, t: float) -> Point:
    return start[0] + t * way[0], start[1] + t * way[1], start[2] + t * way[2]


def _roots(a: float, b: float, c: float) -> Iterable[float]:
    """Of a t² + 2 b t + c."""
    square = b * b - a * c
    if a > 0.0 and square >= 0.0:
        yield (-b - math.sqrt(square)) / a
        yield (-b + math.sqrt(square)) / a


def _sphere(to: Point, way: Point, radius: float) -> Iterable[float]:
    return _roots(dot(way, way), dot(to, way), dot(to, to) - radius * radius)


def _tube(to: Point, way: Point, axis: Point, square: float, radius: float) -> Iterable[float]:
    along_way, along_to = dot(way, axis) / square, dot(to, axis) / square
    w = minus(way, (axis[0] * along_way, axis[1] * along_way, axis[2] * along_way))
    p = minus(to, (axis[0] * along_to, axis[1] * along_to, axis[2] * along_to))
    return _roots(dot(w, w), dot(p, w), dot(p, p) - radius * radius)


def inside(piece: Piece, other: Piece, within: float) -> tuple[float, float] | None:
    """The share of a piece (from, to) within a distance of another; None: nothing of it."""
    found = near(piece[0], minus(piece[1], piece[0]), other, within)
    if found is None:
        return None
    low, high = max(0.0, found[0]), min(1.0, found[1])
    return (low, high) if high > low else None


def merged(stretches: Iterable[tuple[float, float]]) -> list[tuple[float, float]]:
    """Stretches that overlap put together, in order."""
    found: list[tuple[float, float]] = []
    for low, high in sorted(stretches):
        if found and low <= found[-1][1]:
            found[-1] = (found[-1][0], max(found[-1][1], high))
        else:
            found.append((low, high))
    return found
