"""The centreline of a tube: straights, bends of constant radius, and where they begin.

Directions are of length one. Indices of straights and vertices count from 0, bends from 1.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from core.basis.refused import Refused, finite, positive

Array = NDArray[np.float64]
SAME_M = 1e-6
LEAST_BEND, MOST_BEND = math.radians(0.05), math.radians(179.0)
OVERLAP_M = 1e-9


def points(values: Sequence[Sequence[float]], field: str, at_least: int = 2) -> Array:
    """Rows of three finite numbers; refuses fewer than `at_least`."""
    if len(values) < at_least:
        raise Refused(field, f"needs at least {at_least} points")
    rows = []
    for v in values:
        if not isinstance(v, (list, tuple)) or len(v) != 3:
            raise Refused(field, "each point must be three numbers: aft, right, up")
        rows.append([finite(x, field) for x in v])
    return np.array(rows, dtype=float)


def point(value: Sequence[float], field: str) -> Array:
    """One point of three finite numbers."""
    found: Array = points([value], field, 1)[0]
    return found


def cross(a: Array, b: Array) -> Array:
    """a × b of two vectors; much quicker than the general one."""
    (a0, a1, a2), (b0, b1, b2) = a.tolist(), b.tolist()
    return np.array([a1 * b2 - a2 * b1, a2 * b0 - a0 * b2, a0 * b1 - a1 * b0])


def size(v: Array) -> float:
    """Its length."""
    return math.sqrt(float(v @ v))


def unit(v: Array) -> Array:
    """Of length one; its own zero vector where it has no length."""
    long = size(v)
    return v / long if long else v


def bend_angle(a: Array, b: Array) -> float:
    """Between two directions, 0 = straight on, rad."""
    return math.atan2(size(cross(a, b)), float(a @ b))


def turn(about: Array, a: Array, b: Array) -> float:
    """Right-hand from a to b about an axis, in (-π, π], rad."""
    found = math.atan2(float(about @ cross(a, b)), float(a @ b))
    return math.pi if found <= -math.pi + 1e-12 else found


def legs(vertices: Array, field: str = "vertices_m") -> tuple[Array, Array]:
    """Directions and lengths between vertices; refuses points that coincide."""
    d = np.diff(vertices, axis=0)
    long = np.linalg.norm(d, axis=1)
    if np.any(long < SAME_M):
        raise Refused(field, f"points {int(np.argmin(long)) + 1} and the next coincide")
    return d / long[:, None], long


def bends(directions: Array, field: str = "vertices_m") -> list[float]:
    """The angle at each inner vertex; refuses points in line and a run that turns back."""
    found = []
    for n in range(len(directions) - 1):
        beta = bend_angle(directions[n], directions[n + 1])
        if beta < LEAST_BEND:
            raise Refused(field, "points in line: remove the vertex")
        if beta > MOST_BEND:
            raise Refused(field, f"turns back on itself at bend {n + 1}")
        found.append(beta)
    return found


def one_each(values: Sequence[float], count: int, field: str) -> list[float]:
    """As many as there are bends, each above zero."""
    if len(values) != count:
        raise Refused(field, f"needs one for each bend: {count}")
    return [positive(v, field) for v in values]


@dataclass(frozen=True)
class Tube:
    """A bent tube by its vertices and finished centreline radii, m."""

    vertices: Array
    radii: tuple[float, ...]
    field: str = "radii_m"

    @classmethod
    def of(
        cls, vertices_m: Sequence[Sequence[float]], radii_m: Sequence[float], field: str = "radii_m"
    ) -> Tube:
        """From plain data. Refuses what cannot be a tube, by field."""
        at = points(vertices_m, "vertices_m")
        bends(legs(at)[0])
        found = cls(at, tuple(one_each(radii_m, len(at) - 2, field)), field)
        for n, s in enumerate(found.straights):
            if s < -OVERLAP_M:
                raise Refused(field, f"bends overlap on straight {n}")
        return found

    @cached_property
    def _legs(self) -> tuple[Array, Array]:
        return legs(self.vertices)

    @property
    def directions(self) -> Array:
        """Of each straight, towards the far end."""
        return self._legs[0]

    @cached_property
    def angles(self) -> tuple[float, ...]:
        """Of each bend, 0 = straight on."""
        return tuple(bends(self.directions))

    @cached_property
    def tangents(self) -> tuple[float, ...]:
        """From vertex to begin and end of its arc."""
        return tuple(r * math.tan(b / 2) for r, b in zip(self.radii, self.angles, strict=True))

    @cached_property
    def arcs(self) -> tuple[float, ...]:
        """Length of each bend along the centreline."""
        return tuple(r * b for r, b in zip(self.radii, self.angles, strict=True))

    @cached_property
    def straights(self) -> tuple[float, ...]:
        """Between the bends."""
        t = (0.0, *self.tangents, 0.0)
        return tuple(float(long) - t[n] - t[n + 1] for n, long in enumerate(self._legs[1]))

    @cached_property
    def normals(self) -> tuple[Array, ...]:
        """Of each bend's plane: direction before × direction after, of length one."""
        d = self.directions
        return tuple(unit(cross(d[n], d[n + 1])) for n in range(len(self.angles)))

    @cached_property
    def rotations(self) -> tuple[float, ...]:
        """Of the bend plane about the straight between two bends, right-hand to the far end."""
        n, d = self.normals, self.directions
        return tuple(turn(d[i + 1], n[i], n[i + 1]) for i in range(len(n) - 1))

    @property
    def corners_m(self) -> float:
        """Distance along the vertices."""
        return math.fsum(self._legs[1])

    @property
    def developed_m(self) -> float:
        """Along the centreline."""
        return math.fsum(self.straights) + math.fsum(self.arcs)

    def begins(self, bend: int) -> Array:
        """Where the arc of a bend (from 1) begins."""
        found: Array = self.vertices[bend] - self.tangents[bend - 1] * self.directions[bend - 1]
        return found

    def ends(self, bend: int) -> Array:
        """Where the arc of a bend (from 1) ends."""
        found: Array = self.vertices[bend] + self.tangents[bend - 1] * self.directions[bend]
        return found

    def centre(self, bend: int) -> Array:
        """Centre of the circle of a bend (from 1)."""
        inward = cross(self.normals[bend - 1], self.directions[bend - 1])
        found: Array = self.begins(bend) + self.radii[bend - 1] * inward
        return found
