"""Least distance of a straight piece with round ends (a capsule) from another, and from a box
(`clearance.capsule_gap`, `clearance.capsule_box_gap`); exact, and for many at once."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated, Any

import numpy as np

from core.basis.forms import Unit
from core.basis.refused import Refused, finite, not_negative
from core.basis.rules import rule
from core.clearance.words import CAUTION, GEOMETRY

Array = Any
IDENTITY = ((1.0, 0.0, 0.0), (0.0, 1.0, 0.0), (0.0, 0.0, 1.0))
# Rows of a box's axes may be off from square and unit length by this much.
SQUARE = 1e-9
TINY = 1e-300
ROWS = "needs rows of three coordinates"


def coordinates(point: Sequence[float], at: str) -> tuple[float, float, float]:
    """Three finite numbers."""
    if not isinstance(point, (list, tuple)) or len(point) != 3:
        raise Refused(at, ROWS)
    x, y, z = (finite(v, at) for v in point)
    return x, y, z


def line_of(points: Sequence[Sequence[float]], at: str, least: int = 2) -> Array:
    """Points of a line as an array. Refuses fewer than two, and what is no point."""
    if len(points) < least:
        raise Refused(at, f"needs at least {least} points")
    return np.array([coordinates(p, at) for p in points])


def _dot(a: Array, b: Array) -> Array:
    return np.einsum("...k,...k->...", a, b)


def _over(a: Array, b: Array) -> Array:
    """a / b within 0 to 1; 0 where b is none."""
    return np.clip(np.divide(a, b, out=np.zeros(np.broadcast(a, b).shape), where=b > TINY), 0, 1)


def between(p0: Array, p1: Array, q0: Array, q1: Array) -> tuple[Array, Array, Array]:
    """Least distance of straight pieces, m, and the shares s, t along them where it is.

    Arrays (..., 3) that broadcast. s from both lines without their ends, then t for it, then s
    for that t, each within its piece: exact, also where they are parallel or have no length.
    """
    p0, p1, q0, q1 = np.broadcast_arrays(p0, p1, q0, q1)
    u, v, w = p1 - p0, q1 - q0, p0 - q0
    uu, vv, uv = _dot(u, u), _dot(v, v), _dot(u, v)
    uw, vw = _dot(u, w), _dot(v, w)
    apart = uu * vv - uv * uv
    s = np.where(apart > 1e-14 * uu * vv, _over(uv * vw - vv * uw, apart), 0.0)
    t = _over(uv * s + vw, vv)
    s = _over(uv * t - uw, uu)
    gap = w + s[..., None] * u - t[..., None] * v
    return np.sqrt(_dot(gap, gap)), s, t


def to_box(p0: Array, p1: Array, half: Array) -> tuple[Array, Array]:
    """Least distance of straight pieces from a box about the origin, m, and the share t.

    Along a piece the squared distance is a parabola between the places where it passes a face's
    plane: the least of all of them, exactly.
    """
    p0, p1, half = np.broadcast_arrays(p0, p1, half)
    u = p1 - p0
    safe = np.where(np.abs(u) > TINY, u, 1.0)
    passes = [np.where(np.abs(u) > TINY, (side * half - p0) / safe, 0.0) for side in (-1.0, 1.0)]
    cuts = np.concatenate([*passes, np.zeros_like(p0[..., :1]), np.ones_like(p0[..., :1])], axis=-1)
    cuts = np.sort(np.clip(cuts, 0.0, 1.0), axis=-1)
    lo, hi = cuts[..., :-1], cuts[..., 1:]
    middle = p0[..., None, :] + (0.5 * (lo + hi))[..., None] * u[..., None, :]
    side = np.where(np.abs(middle) > half[..., None, :], np.sign(middle), 0.0)
    # Where side is not 0 this coordinate is that far beyond its face.
    beyond = side * (p0[..., None, :] - side * half[..., None, :]) * np.abs(side)
    slope = side * u[..., None, :]
    best = np.clip(_ratio(-_dot(beyond, slope), _dot(slope, slope), lo), lo, hi)
    far = np.maximum(beyond + best[..., None] * slope, 0.0) * np.abs(side)
    squared = _dot(far, far)
    at = np.argmin(squared, axis=-1)[..., None]
    least = np.take_along_axis(squared, at, axis=-1)[..., 0]
    return np.sqrt(least), np.take_along_axis(best, at, axis=-1)[..., 0]


def _ratio(a: Array, b: Array, otherwise: Array) -> Array:
    return np.divide(a, b, out=np.array(otherwise), where=b > TINY)


@dataclass(frozen=True)
class BoxIn:
    """A box anywhere: plates have a half size of 0."""

    centre: Annotated[Sequence[float], "Its middle, m."]
    half: Annotated[Sequence[float], "Half its size along each of its axes, m."]
    axes: Annotated[Sequence[Sequence[float]], "Three rows square to one another."] = IDENTITY


@dataclass(frozen=True)
class Block:
    """A box, checked: centre and half sizes, m, axes as rows."""

    centre: Array
    half: Array
    axes: Array

    def inside(self, points: Array) -> Array:
        """Points as they lie in its own frame, its middle the origin."""
        return (points - self.centre) @ self.axes.T

    @property
    def corners(self) -> Array:
        """All eight, m."""
        signs = np.array([[x, y, z] for x in (-1, 1) for y in (-1, 1) for z in (-1, 1)])
        return self.centre + (signs * self.half) @ self.axes


def block_of(b: BoxIn, at: str) -> Block:
    """Refuses negative half sizes and axes that are not square."""
    centre = np.array(coordinates(b.centre, f"{at}.centre"))
    half = [not_negative(h, f"{at}.half") for h in coordinates(b.half, f"{at}.half")]
    if len(b.axes) != 3:
        raise Refused(f"{at}.axes", "needs three rows")
    axes = np.array([coordinates(row, f"{at}.axes") for row in b.axes])
    with np.errstate(over="ignore"):
        off = np.max(np.abs(axes @ axes.T - np.eye(3)))
    if not off <= SQUARE:
        raise Refused(f"{at}.axes", "must be three rows of length one, square to one another")
    return Block(centre, np.array(half), axes)


@dataclass(frozen=True)
class Gap:
    """How near two straight pieces come. on_a, on_b: points on their middle lines."""

    distance: Annotated[float, "Of the middle lines.", Unit("m")]
    gap: Annotated[float, "Less both radii; below 0: overlap of at least that.", Unit("m")]
    s: Annotated[float, "Share along a."]
    t: Annotated[float, "Share along b."]
    on_a: Annotated[tuple[float, ...], "Where on a, m."]
    on_b: Annotated[tuple[float, ...], "Where on b, m."]


@rule(
    "clearance.capsule_gap",
    title="Two straight pieces",
    purpose="How near do two tubes, rods, wires or bolts come to each other?",
    source=GEOMETRY,
    validity="Straight pieces with round ends; where they overlap, the depth is not computed.",
    caution=CAUTION,
)
def capsule_gap(
    a0: Annotated[Sequence[float], "One end of a, m."],
    a1: Annotated[Sequence[float], "Its other end, m."],
    ra: Annotated[float, "Radius of a.", Unit("m")],
    b0: Annotated[Sequence[float], "One end of b, m."],
    b1: Annotated[Sequence[float], "Its other end, m."],
    rb: Annotated[float, "Radius of b.", Unit("m")],
) -> Gap:
    """Distance of the middle lines less both radii. Refuses what is no point, negative radii."""
    p0, p1 = np.array(coordinates(a0, "a0")), np.array(coordinates(a1, "a1"))
    radius = not_negative(ra, "ra")
    q0, q1 = np.array(coordinates(b0, "b0")), np.array(coordinates(b1, "b1"))
    radius += not_negative(rb, "rb")
    d, s, t = (float(x) for x in between(p0, p1, q0, q1))
    return Gap(d, d - radius, s, t, listed(p0 + s * (p1 - p0)), listed(q0 + t * (q1 - q0)))


def listed(point: Array) -> tuple[float, ...]:
    """A point as plain numbers."""
    return tuple(float(x) for x in point)


@dataclass(frozen=True)
class BoxGap:
    """How near a straight piece comes to a box."""

    distance: Annotated[float, "Of its middle line; 0 where it goes through.", Unit("m")]
    gap: Annotated[float, "Less its radius.", Unit("m")]
    t: Annotated[float, "Share along the piece."]
    on_a: Annotated[tuple[float, ...], "Where on its middle line, m."]
    on_b: Annotated[tuple[float, ...], "Where on the box, m."]


@rule(
    "clearance.capsule_box_gap",
    title="A straight piece and a box",
    purpose="How near does a tube, rod or wire come to a box or a plate?",
    source=GEOMETRY,
    validity="A piece through the box has distance 0; how deep is not computed.",
    caution=CAUTION,
)
def capsule_box_gap(
    a0: Annotated[Sequence[float], "One end, m."],
    a1: Annotated[Sequence[float], "Other end, m."],
    ra: Annotated[float, "Its radius.", Unit("m")],
    b: Annotated[BoxIn, "centre, half, axes."],
) -> BoxGap:
    """Distance of the middle line less the radius. Refuses as `block_of` does."""
    p0, p1 = np.array(coordinates(a0, "a0")), np.array(coordinates(a1, "a1"))
    radius, box = not_negative(ra, "ra"), block_of(b, "b")
    found, share = to_box(box.inside(p0), box.inside(p1), box.half)
    d, t = float(found), float(share)
    on = p0 + t * (p1 - p0)
    nearest = box.centre + np.clip(box.inside(on), -box.half, box.half) @ box.axes
    return BoxGap(d, d - radius, t, listed(on), listed(nearest))
