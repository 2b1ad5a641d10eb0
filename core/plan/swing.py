"""A handle that swings about an axis: where on the circle it is free of everything.

On a stretch of angles the gap changes by no more than the handle's reach times half of the
stretch, so that a stretch is free, or blocked, as a whole, or is halved.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from core.clearance.distance import Array, Block, between, to_box

FINE_RAD, PIECES = 1e-8, 64
TURN = 2.0 * math.pi
SIGNS = np.array([[x, y, z] for x in (-1, 1) for y in (-1, 1) for z in (-1, 1)], dtype=float)
EDGES = np.array([(a, b) for a, b in itertools.combinations(range(8), 2)
                  if np.abs(SIGNS[a] - SIGNS[b]).sum() == 2.0])  # fmt: skip
# From angles (K,) to gaps (K,), m; below 0 where it overlaps.
Gap = Callable[[Array], Array]


@dataclass(frozen=True)
class Thing:
    """What stands around: a line with its radius, or a box."""

    id: str
    points: Array | None = None
    radius: float = 0.0
    box: Block | None = None


@dataclass(frozen=True)
class Handle:
    """From a point of the axis outward: a rod, or a flat bar that begins there and goes up by its
    thickness. e1, e2: at right angles to the axis and to one another."""

    start: Array
    axis: Array
    e1: Array
    e2: Array
    length: float
    radius: float = 0.0
    width: float = 0.0
    thickness: float = 0.0

    @property
    def reach(self) -> float:
        """The farthest of it from the axis, m."""
        return math.hypot(self.length, self.width / 2.0)

    def along(self, angles: Array) -> Array:
        """Its direction at angles (K,): (K, 3)."""
        way: Array = np.cos(angles)[:, None] * self.e1 + np.sin(angles)[:, None] * self.e2
        return way

    def gap(self, thing: Thing) -> Gap:
        """How far it is from a thing at each angle."""
        return self._rod(thing) if self.radius > 0.0 else self._bar(thing)

    def _rod(self, thing: Thing) -> Gap:
        def gaps(angles: Array) -> Array:
            tip = self.start + self.length * self.along(angles)
            if thing.box is not None:
                b = thing.box
                p0 = np.broadcast_to(b.inside(self.start), tip.shape)
                found: Array = to_box(p0, b.inside(tip), b.half)[0] - self.radius
                return found
            assert thing.points is not None
            d, _, _ = between(
                self.start, tip[:, None], thing.points[None, :-1], thing.points[None, 1:]
            )
            least: Array = d.min(axis=1) - self.radius - thing.radius
            return least

        return gaps

    def _bar(self, thing: Thing) -> Gap:
        half = np.array([self.length, self.width, self.thickness]) / 2.0

        def gaps(angles: Array) -> Array:
            found = []
            for way in self.along(angles):
                axes = np.stack([way, np.cross(self.axis, way), self.axis])
                middle = self.start + way * half[0] + self.axis * half[2]
                bar = Block(middle, half, axes)
                if thing.box is not None:
                    found.append(boxes_apart(bar, thing.box))
                    continue
                assert thing.points is not None
                line = bar.inside(thing.points)
                found.append(float(to_box(line[:-1], line[1:], half)[0].min()) - thing.radius)
            return np.array(found)

        return gaps


def boxes_apart(a: Block, b: Block) -> float:
    """Distance of two boxes, m; where they overlap, less their least overlap."""
    in_b, in_a = b.inside(a.corners), a.inside(b.corners)
    far = min(
        float(to_box(in_b[EDGES[:, 0]], in_b[EDGES[:, 1]], b.half)[0].min()),
        float(to_box(in_a[EDGES[:, 0]], in_a[EDGES[:, 1]], a.half)[0].min()),
    )
    return far if far > 0.0 else -_overlap(a, b)


def _overlap(a: Block, b: Block) -> float:
    """The least way along which two boxes that meet could be drawn apart."""
    ways = [*a.axes, *b.axes, *(np.cross(x, y) for x in a.axes for y in b.axes)]
    least = math.inf
    for way in ways:
        long = float(np.linalg.norm(way))
        if long < 1e-9:
            continue
        unit = way / long
        spans = sum(float(np.abs(box.axes @ unit) @ box.half) for box in (a, b))
        least = min(least, spans - abs(float((b.centre - a.centre) @ unit)))
    return max(0.0, least)


def blocked(gap: Gap, reach: float, least: float) -> list[tuple[float, float]]:
    """The stretches of [0, 2π] on which a gap is less than asked."""
    edges = np.linspace(0.0, TURN, PIECES + 1)
    low, high = edges[:-1], edges[1:]
    found: list[tuple[float, float]] = []
    while len(low):
        middle, half = (low + high) / 2.0, (high - low) / 2.0
        spare = gap(middle) - least
        inside = spare < -reach * half
        tiny = half < FINE_RAD
        take = inside | (tiny & (spare < reach * half))
        found += list(zip(low[take].tolist(), high[take].tolist(), strict=True))
        split = ~take & (spare < reach * half) & ~tiny
        low, high = (
            np.concatenate([low[split], middle[split]]),
            np.concatenate([middle[split], high[split]]),
        )
    return _joined(found)


def _joined(stretches: Sequence[tuple[float, float]]) -> list[tuple[float, float]]:
    found: list[tuple[float, float]] = []
    for a, b in sorted(stretches):
        if found and a <= found[-1][1] + 2.0 * FINE_RAD:
            found[-1] = (found[-1][0], max(found[-1][1], b))
        else:
            found.append((a, b))
    return found


@dataclass(frozen=True)
class Arc:
    """The widest stretch of the circle that is free. middle: its angle; ends: who ends it."""

    width: float
    middle: float | None
    ends: tuple[str, ...]


def widest(stretches: dict[str, list[tuple[float, float]]]) -> Arc:
    """Of what each thing blocks, by its id."""
    every = [(a, b, name) for name, mine in stretches.items() for a, b in mine]
    if not every:
        return Arc(TURN, None, ())
    whole = _joined([(a, b) for a, b, _ in every])
    if whole[0][0] <= FINE_RAD and whole[-1][1] >= TURN - FINE_RAD and len(whole) > 1:
        last = whole.pop()
        whole[0] = (last[0] - TURN, whole[0][1])
    best = (0.0, 0.0, 0.0)
    for n, (_, end) in enumerate(whole):
        after = whole[(n + 1) % len(whole)][0] + (TURN if n + 1 == len(whole) else 0.0)
        if after - end > best[0]:
            best = (after - end, end, after)
    width, start, end = best
    if width <= 2.0 * FINE_RAD:
        return Arc(0.0, None, tuple(stretches_of(stretches)))
    ends = [_at(every, start, 1), _at(every, end, 0)]
    return Arc(width, (start + end) / 2.0, tuple(dict.fromkeys(x for x in ends if x)))


def stretches_of(stretches: dict[str, list[tuple[float, float]]]) -> list[str]:
    """Who blocks anything."""
    return [name for name, mine in stretches.items() if mine]


def _at(every: Sequence[tuple[float, float, str]], angle: float, side: int) -> str:
    """Whose stretch ends (side 1) or begins (0) at an angle."""

    def away(one: tuple[float, float, str]) -> float:
        off = abs(float(one[side]) - angle) % TURN
        return min(off, TURN - off)

    return min(every, key=away)[2]
