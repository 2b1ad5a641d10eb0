"""A closed tank under test: its gauge falls because the weather changes, not because it leaks."""

from __future__ import annotations

import random
import time
from collections.abc import Callable

# At the beginning, Pa; the outside rises by so much in an hour.
GAUGE_PA, OUTSIDE_PA, RISE_PA_H = 2450.0, 101120.0, 60.0


class Tank:
    """Tight. What its gauge shows is what is in it less what is outside."""

    def __init__(self, seed: int, clock: Callable[[], float] = time.monotonic) -> None:
        self.chance = random.Random(seed)
        self.clock = clock
        self.began = clock()

    def outside(self) -> float:
        """The pressure of the air outside now, Pa."""
        t = self.clock() - self.began
        return OUTSIDE_PA + RISE_PA_H * t / 3600.0

    def gauge(self) -> float:
        """What the gauge shows, to one pascal."""
        inside = GAUGE_PA + OUTSIDE_PA
        return round(inside - self.outside() + self.chance.gauss(0.0, 0.8))

    def barometer(self) -> float:
        """What the barometer shows, to one pascal."""
        return round(self.outside() + self.chance.gauss(0.0, 0.8))
