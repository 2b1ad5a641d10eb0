"""The way of a cable over pulleys between two moving ends, in closed form over whole sweeps.

A cable leaves an attachment, touches each pulley on the side its sense says, and ends at the
other attachment. The pieces between pulleys do not move with the levers; they are found once,
to 1e-14 m. The ends are tangents from a point to a circle.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from core.basis.refused import Refused, not_negative
from core.basis.vectors import Num, Point, Vec, cross, dot, minus, size, unit, vec

MOST_WRAP = math.radians(300.0)
FULL_TURN = 2.0 * math.pi
CLOSED = 1e-14
MOST_ROUNDS = 500


@dataclass(frozen=True)
class Pulley:
    """Centre m, axis, radius to the cable's centre line m (0: a guide point), sense.

    Sense +1: followed from driver to driven, the cable goes round counter-clockwise about the
    axis; -1 clockwise.
    """

    centre: Vec
    axis: Vec = (0.0, 0.0, 1.0)
    radius_m: float = 0.0
    sense: int = 1

    def __post_init__(self) -> None:
        vec(self.centre, "centre")
        object.__setattr__(self, "axis", unit(self.axis, "axis"))
        not_negative(self.radius_m, "radius_m")
        if self.sense not in (1, -1):
            raise Refused("sense", "must be 1 or -1")

    @cached_property
    def across(self) -> tuple[Vec, Vec]:
        """Two directions in its plane, the second a quarter turn on from the first."""
        n = self.axis
        helper = (0.0, 0.0, 1.0) if abs(n[2]) < 0.9 else (1.0, 0.0, 0.0)
        u = unit(cross(helper, n), "axis")
        return u, cross(n, u)

    def touched(self, q: Point, leaving: bool) -> tuple[Num, Point, Num]:
        """Angle, point and straight length of the tangent with the outside point q.

        Not a number where q lies inside the pulley.
        """
        if self.radius_m == 0:
            return 0.0, self.centre, size(minus(q, self.centre))
        u, w = self.across
        v = minus(q, self.centre)
        x, y, z = dot(v, u), dot(v, w), dot(v, self.axis)
        d2 = x * x + y * y
        r = self.radius_m
        with np.errstate(invalid="ignore", divide="ignore"):
            lean = np.arccos(r / np.sqrt(d2))
            flat2 = np.where(d2 > r * r, d2 - r * r, np.nan)
            long = np.sqrt(flat2 + z * z)
        side = -self.sense if leaving else self.sense
        angle = np.arctan2(y, x) + side * lean
        c, s = r * np.cos(angle), r * np.sin(angle)
        k = self.centre
        point = tuple(k[i] + c * u[i] + s * w[i] for i in range(3))
        return angle, point, long

    def wrap(self, entry: Num, leave: Num) -> Num:
        """Angle wrapped from entry to exit in the sense of travel, rad, in [0, 2π)."""
        turned = np.mod(self.sense * (leave - entry), FULL_TURN)
        return np.where(turned > FULL_TURN - 1e-9, 0.0, turned)


@dataclass(frozen=True)
class Reach:
    """One end of a path: its attachment, where it touches its pulley, rad, its own part of the
    length, m (that at the driven end with all between pulleys), and the unit direction from the
    attachment into the cable."""

    at: Point
    angle: Num
    length: Num
    into: Point


class Path:
    """A cable's way over fixed pulleys; its two attachments may move."""

    def __init__(self, pulleys: Sequence[Pulley], field: str = "pulleys") -> None:
        self.pulleys = tuple(pulleys)
        self.field = field
        self._between()

    def _between(self) -> None:
        """Exit and entry angles of neighbouring pulleys: each the tangent from the other."""
        ps = self.pulleys
        self.leaves: list[float] = []
        self.enters: list[float] = []
        self.pieces: list[float] = []
        self.spots: list[tuple[Point, Point]] = []
        for i, (p, q) in enumerate(itertools.pairwise(ps)):
            leave, enter, long, spots = self._tangent(i, p, q)
            self.leaves.append(leave)
            self.enters.append(enter)
            self.pieces.append(long)
            self.spots.append(spots)
        self.inner = math.fsum(self.pieces)
        for i in range(1, len(ps) - 1):
            self.inner += ps[i].radius_m * float(
                self._wrapped(i, self.enters[i - 1], self.leaves[i])
            )

    def _tangent(
        self, i: int, p: Pulley, q: Pulley
    ) -> tuple[float, float, float, tuple[Point, Point]]:
        out: Point = p.centre
        into: Point = q.centre
        leave = enter = 0.0
        for _ in range(MOST_ROUNDS):
            leave, new_out, _ = p.touched(into, leaving=True)
            self._inside(i, leave)
            enter, new_into, _ = q.touched(new_out, leaving=False)
            self._inside(i + 1, enter)
            moved = max(size(minus(new_out, out)), size(minus(new_into, into)))
            out, into = new_out, new_into
            if moved < CLOSED:
                break
        return float(leave), float(enter), float(size(minus(into, out))), (out, into)

    def _inside(self, i: int, angle: Num) -> None:
        if np.any(np.isnan(angle)):
            raise Refused(
                f"{self.field}.{i}.radius_m", "the cable's next point lies inside the pulley"
            )

    def _wrapped(self, i: int, entry: Num, leave: Num) -> Num:
        p = self.pulleys[i]
        if p.radius_m == 0:
            return 0.0 * (leave + entry)
        wrap = p.wrap(entry, leave)
        if np.any(wrap > MOST_WRAP):
            raise Refused(
                f"{self.field}.{i}.sense",
                "the cable does not bear on this pulley, or bears on its other side",
            )
        return wrap

    def refuse_at(self, a: Point, b: Point) -> None:
        """Refuses what cannot be at these two attachments, naming the pulley."""
        if not self.pulleys:
            return
        last = len(self.pulleys) - 1
        entry, _, _ = self.pulleys[0].touched(a, leaving=False)
        leave, _, _ = self.pulleys[last].touched(b, leaving=True)
        self._inside(0, entry)
        self._inside(last, leave)
        self._wrapped(0, entry, leave if last == 0 else self.leaves[0])
        if last > 0:
            self._wrapped(last, self.enters[-1], leave)

    def measured(self, a: Point, b: Point) -> tuple[Num, Point, Point]:
        """Length from a to b, and the unit directions at a and at b into the cable.

        a and b broadcast. Not a number where a path cannot be.
        """
        return self.between(self.reach(a, last=False), self.reach(b, last=True))

    def reach(self, at: Point, last: bool) -> Reach:
        """The part of the path that moves with one attachment: the first, or the last."""
        if not self.pulleys:
            return Reach(at, 0.0, 0.0, at)
        p = self.pulleys[-1 if last else 0]
        angle, spot, long = p.touched(at, leaving=last)
        own = long
        if last:
            own = long + self.inner
        if len(self.pulleys) > 1 and last:
            own = own + p.radius_m * self._bent(p, self.enters[-1], angle)
        elif len(self.pulleys) > 1:
            own = long + p.radius_m * self._bent(p, angle, self.leaves[0])
        return Reach(at, angle, own, _towards(at, spot, long))

    def between(self, a: Reach, b: Reach, less_m: float = 0.0) -> tuple[Num, Point, Point]:
        """As `measured`, from both ends' own parts: a sweep over one end keeps the other's.

        The length is given less `less_m`.
        """
        if not self.pulleys:
            v = minus(b.at, a.at)
            long = size(v)
            away = (v[0] / long, v[1] / long, v[2] / long)
            return long - less_m, away, (-away[0], -away[1], -away[2])
        length = a.length + (b.length - less_m)
        if len(self.pulleys) == 1:
            only = self.pulleys[0]
            length = length + only.radius_m * self._bent(only, a.angle, b.angle)
        return length, a.into, b.into

    @staticmethod
    def _bent(p: Pulley, entry: Num, leave: Num) -> Num:
        if p.radius_m == 0:
            return 0.0
        wrap = p.wrap(entry, leave)
        return np.where(wrap > MOST_WRAP, np.nan, wrap)

    def length(self, a: Point, b: Point) -> Num:
        """Length from a to b, m."""
        return self.measured(a, b)[0]

    def shape(self, a: Vec, b: Vec) -> tuple[tuple[Point, Point], ...]:
        """Entry and exit point of each pulley, with the attachments at a and b."""
        if not self.pulleys:
            return ()
        _, first, _ = self.pulleys[0].touched(a, leaving=False)
        _, last, _ = self.pulleys[-1].touched(b, leaving=True)
        entries = [first, *(into for _, into in self.spots)]
        exits = [*(out for out, _ in self.spots), last]
        return tuple((_plain(e), _plain(x)) for e, x in zip(entries, exits, strict=True))


def _towards(a: Point, spot: Point, long: Num) -> Point:
    v = minus(spot, a)
    return (v[0] / long, v[1] / long, v[2] / long)


def _plain(p: Point) -> Vec:
    return (float(p[0]), float(p[1]), float(p[2]))
