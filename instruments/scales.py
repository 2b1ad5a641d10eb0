"""Three simulated scales under an aircraft: each a little wrong, slow to settle, never quite still.

What really stands on a wheel nobody can ask for.
"""

from __future__ import annotations

import math
import random
import time
from collections.abc import Callable

NAMES = ("scale-a", "scale-b", "scale-c")
# What each shows for one kilogram that stands on it, and what it shows of nothing, kg.
SHOWS = {"scale-a": (1.0004, 0.02), "scale-b": (0.9991, -0.03), "scale-c": (1.0007, 0.0)}
# What each wheel carries with its chocks, kg.
WHEELS = {
    "fenlark": {"nose": 109.42, "left": 125.58, "right": 124.63},
    "moorhen": {"left": 143.61, "right": 142.28, "tail": 24.94},
}
STEP, NOISE, SWING, SETTLES_S, DRIFT_KG_S = 0.05, 0.012, 1.8, 0.35, 0.0004


class Scales:
    """All three; `stand` puts a wheel on one of them."""

    def __init__(self, seed: int, clock: Callable[[], float] = time.monotonic) -> None:
        self.chance = random.Random(seed)
        self.clock = clock
        self.on = dict.fromkeys(NAMES, 0.0)
        self.since = dict.fromkeys(NAMES, clock())

    def stand(self, aircraft: str, scale: str, wheel: str) -> bool:
        """A wheel onto a scale; False if there is none."""
        load = WHEELS.get(aircraft, {}).get(wheel)
        if scale not in self.on or load is None:
            return False
        self.on[scale], self.since[scale] = load, self.clock()
        return True

    def kg(self, scale: str) -> float:
        """What it shows now, to its step."""
        factor, zero = SHOWS[scale]
        t = self.clock() - self.since[scale]
        swing = SWING * math.exp(-t / SETTLES_S) if self.on[scale] else 0.0
        shown = self.on[scale] * factor + zero - swing + DRIFT_KG_S * min(t, 60.0)
        return round((shown + self.chance.gauss(0.0, NOISE)) / STEP) * STEP
