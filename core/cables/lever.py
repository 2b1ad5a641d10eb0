"""A lever with a cable at each end: where its attachments are at an angle."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from core.basis.refused import Refused
from core.basis.vectors import Num, Point, Vec, cross, dot, minus, unit, vec

LEAST_ARM = 1e-6
SIDES = ("A", "B")


@dataclass(frozen=True)
class Lever:
    """Pivot, axis, and the attachments of sides A and B at neutral, m."""

    pivot: Vec
    axis: Vec
    A: Vec
    B: Vec

    def __post_init__(self) -> None:
        vec(self.pivot, "pivot")
        object.__setattr__(self, "axis", unit(self.axis, "axis"))
        for side in SIDES:
            r = minus(vec(getattr(self, side), side), self.pivot)
            along = dot(r, self.axis)
            if math.sqrt(max(0.0, dot(r, r) - along * along)) < LEAST_ARM:
                raise Refused(side, "attachment lies on the pivot axis")

    def attachment(self, side: str, angle: Num) -> Point:
        """Where the attachment of a side is, at an angle about the axis (Rodrigues), rad."""
        k = self.axis
        r = minus(getattr(self, side), self.pivot)
        c, s = np.cos(angle), np.sin(angle)
        across, along = cross(k, r), dot(k, r)
        p = self.pivot
        return (
            p[0] + r[0] * c + across[0] * s + k[0] * along * (1 - c),
            p[1] + r[1] * c + across[1] * s + k[1] * along * (1 - c),
            p[2] + r[2] * c + across[2] * s + k[2] * along * (1 - c),
        )

    def arm(self, at: Point, into: Point) -> Num:
        """-t·(k x r): how much a cable that leaves `at` along `into` lengthens per radian, m."""
        return -dot(into, cross(self.axis, minus(at, self.pivot)))
