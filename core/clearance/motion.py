"""What moves and how fast: points of a thing at every position of its controls.

A thing moves by steps (turned about an axis, slid along a vector), each by one control. Controls
are radians of a surface or metres of a slide.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Annotated

import numpy as np

from core.basis.forms import Unit
from core.basis.refused import Refused, finite, not_negative
from core.clearance.distance import Array, Block, BoxIn, block_of, coordinates, line_of

SHORT_M = 1e-12


@dataclass(frozen=True)
class RotateIn:
    """Turned about an axis, right-handed."""

    origin: Annotated[Sequence[float], "A point of the axis, m."]
    axis: Annotated[Sequence[float], "Its direction."]
    ratio: Annotated[float, "Angle per unit of the control."]


@dataclass(frozen=True)
class StepIn:
    """One step of a movement: a turn or a slide."""

    control: Annotated[int, "Which control, from 0."]
    rotate: Annotated[RotateIn | None, "origin, axis, ratio."] = None
    translate: Annotated[Sequence[float] | None, "Or a vector per unit of it, m."] = None


@dataclass(frozen=True)
class MovingIn:
    """A run or a box, and how it moves."""

    points: Annotated[Sequence[Sequence[float]] | None, "Corners, m."] = None
    radius: Annotated[float, "Of the run.", Unit("m")] = 0.0
    steps: Annotated[tuple[StepIn, ...], "In their order; none: it stands still."] = ()
    box: Annotated[BoxIn | None, "Instead of points: centre, half, axes."] = None


@dataclass(frozen=True)
class Turn:
    """A step: a turn about an axis of length one, or a slide."""

    control: int
    origin: Array
    axis: Array
    ratio: float
    slide: bool = False

    def matrix(self, q: Array) -> Array:
        """Rotations for these positions, (K, 3, 3)."""
        x, y, z = self.axis
        k = np.array([[0.0, -z, y], [z, 0.0, -x], [-y, x, 0.0]])
        a = self.ratio * q[:, self.control]
        s, c = np.sin(a)[:, None, None], np.cos(a)[:, None, None]
        return np.eye(3) + s * k + (1.0 - c) * (k @ k)


@dataclass(frozen=True)
class Body:
    """A thing ready to be searched: its points (a run's corners, a box's eight), how it moves.

    radii: of each straight. box: where it is one. shift: extra reach of each straight, m.
    """

    points: Array
    radii: Array
    steps: tuple[Turn, ...] = ()
    box: Block | None = None

    def frame(self, q: Array) -> tuple[Array, Array]:
        """Rotation (K, 3, 3) and shift (K, 3) for positions q (K, controls)."""
        r = np.broadcast_to(np.eye(3), (len(q), 3, 3))
        d = np.zeros((len(q), 3))
        for step in self.steps:
            if step.slide:
                d = d + q[:, step.control, None] * step.axis
                continue
            m = step.matrix(q)
            r = m @ r
            d = step.origin + np.einsum("kij,kj->ki", m, d - step.origin)
        return r, d

    def at(self, q: Array) -> Array:
        """Points for positions q (K, controls): (K, points, 3)."""
        if not self.steps:
            return np.broadcast_to(self.points, (len(q), *self.points.shape))
        r, d = self.frame(q)
        return np.einsum("kij,pj->kpi", r, self.points) + d[:, None, :]

    def speeds(self, greatest: Array) -> Array:
        """Greatest speed of each point per unit of each control, (points, controls), for controls
        that reach at most `greatest`."""
        found = np.zeros((len(self.points), len(greatest)))
        moved = np.zeros(len(self.points))
        for step in self.steps:
            if step.slide:
                speed = np.full(len(self.points), float(np.linalg.norm(step.axis)))
                most = speed * greatest[step.control]
            else:
                w = self.points - step.origin
                along = w @ step.axis
                arm = np.sqrt(np.maximum((w * w).sum(axis=1) - along**2, 0.0)) + moved
                speed = abs(step.ratio) * arm
                most = np.minimum(speed * greatest[step.control], 2.0 * arm)
            found[:, step.control] += speed
            moved = moved + most
        return found

    @cached_property
    def straights(self) -> tuple[Array, Array]:
        """Which points each straight joins."""
        n = np.arange(len(self.points) - 1)
        return n, n + 1


def body_of(given: MovingIn, at: str, controls: int) -> Body:
    """Checked. Refuses neither or both of points and box, and steps of no control."""
    steps = tuple(_step(s, f"{at}.steps[{n}]", controls) for n, s in enumerate(given.steps))
    radius = not_negative(given.radius, f"{at}.radius")
    if (given.points is None) == (given.box is None):
        raise Refused(f"{at}.points", "needs points, or a box instead")
    if given.box is not None:
        box = block_of(given.box, f"{at}.box")
        return Body(box.corners, np.zeros(1), steps, box)
    points = line_of(given.points or (), f"{at}.points")
    return Body(points, np.full(len(points) - 1, radius), steps)


def _step(s: StepIn, at: str, controls: int) -> Turn:
    if (s.rotate is None) == (s.translate is None):
        raise Refused(at, "needs rotate or translate")
    if not 0 <= s.control < controls:
        raise Refused(f"{at}.control", f"must be one of {controls}, from 0")
    if s.translate is not None:
        vector = np.array(coordinates(s.translate, f"{at}.translate"))
        return Turn(s.control, np.zeros(3), vector, 1.0, slide=True)
    assert s.rotate is not None
    axis = coordinates(s.rotate.axis, f"{at}.rotate.axis")
    long = math.hypot(*axis)
    if long < SHORT_M:
        raise Refused(f"{at}.rotate.axis", "has no length: it gives no direction")
    origin = coordinates(s.rotate.origin, f"{at}.rotate.origin")
    ratio = finite(s.rotate.ratio, f"{at}.rotate.ratio")
    return Turn(s.control, np.array(origin), np.array(axis) / long, ratio)
