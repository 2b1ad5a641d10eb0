"""A simulated digital level (and a protractor, which is the same thing held flat).

Behind it is a simulated aircraft whose true angles nobody can ask for: only the noisy,
stepped and slightly wrong reading.
"""

from __future__ import annotations

import random
import threading
import time
from typing import Any

from instruments.aircraft import Rig, mechanism_of, play, true_angle

NOISE = 0.02
STEP = 0.05
SETTLES_IN = 0.8
GROUPS = ("rods", "stops", "cables")


class Level:
    """The level lying somewhere: it swings after it is laid, then rests."""

    def __init__(self, seed: int, zero_error: float = 0.06) -> None:
        self.chance = random.Random(seed)
        self.zero_error = zero_error
        self.true = 0.0
        self.laid_at = time.monotonic()
        self.seating = 0.0
        self.rigs: dict[str, Rig] = {}
        self.lock = threading.Lock()

    def lay(self, aircraft: str, surface: str, position: str) -> bool:
        """Lay it on a surface at a position; False if there is no such place."""
        angle = true_angle(
            aircraft, surface, position, self.rigs.get(mechanism_of(aircraft, surface) or "")
        )
        if angle is None:
            return False
        with self.lock:
            half = play(aircraft, surface) / 2.0
            self.true = angle + self.chance.uniform(-half, half)
            self.laid_at = time.monotonic()
            self.seating = self.chance.gauss(0.0, 0.04)
        return True

    def rig(self, mechanism: str, changes: Any) -> bool:
        """Take what was turned so far, rods and cables in m, stops in rad; False if it is no
        such thing."""
        if not isinstance(changes, dict):
            return False
        found: Rig = {}
        for group in GROUPS:
            values = changes.get(group, {})
            if not isinstance(values, dict):
                return False
            if not all(isinstance(v, int | float) for v in values.values()):
                return False
            found[group] = {str(k): float(v) for k, v in values.items()}
        self.rigs[mechanism] = found
        return True

    def read(self) -> float:
        """What the display shows, degrees."""
        with self.lock:
            since = time.monotonic() - self.laid_at
            swing = 3.0 * max(0.0, 1.0 - since / SETTLES_IN) * self.chance.uniform(-1.0, 1.0)
            noise = self.chance.gauss(0.0, NOISE)
            shown = self.true + self.zero_error + self.seating + swing + noise
            return round(shown / STEP) * STEP
