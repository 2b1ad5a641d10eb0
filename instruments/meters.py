"""A simulated bench of meters: a multimeter on a wire, an ammeter in the bus, a gas detector.

What they really have nobody can ask for: only a noisy reading that first has to settle.
"""

from __future__ import annotations

import random
import time
from collections.abc import Callable

LEADS_OHM = 0.040
# Resistance of each wire with its contacts, Ω: W31 has a bad crimp.
WIRES = {
    "fenlark": {
        "w10": 0.1175, "w11": 0.1142, "w20": 0.0871, "w30": 0.0216, "w31": 0.0702,
        "w40": 0.0436, "w41": 0.0441,
    },
}  # fmt: skip
# What a bus draws with every breaker out, and each breaker more, A.
BUSES = {
    "fenlark": {
        "night-bus": {"bus": 0.18, "cb1-4": 1.13},
        "main-bus": {"bus": 0.62, "cb1-1": 7.1, "cb1-2": 4.4, "cb1-3": 0.21},
    },
}
SETTLES_S, INRUSH = 0.7, 0.6
# The detector shows its whole scale in its self-test, then goes down to clean air.
FULL, TEST_S, FALLS_S, CLEAN = 100.0, 3.0, 2.0, 3.0
DEVICES = {"fenlark": ("gas-detector",)}


class Bench:
    """One bench; `hand` puts a meter somewhere."""

    def __init__(self, seed: int, clock: Callable[[], float] = time.monotonic) -> None:
        self.chance = random.Random(seed)
        self.clock = clock
        self.probed: float | None = None
        self.loads: dict[str, float] = {}
        self.probed_at = self.switched_at = self.woken_at = clock()
        self.last = 0.0
        self.awake = False

    def hand(self, does: str, aircraft: str, what: str, at: str) -> bool:
        """Probe a wire, put in a breaker of a bus, wake a device; False if it is not there."""
        if does == "PROBE":
            self.probed = WIRES.get(aircraft, {}).get(what)
            self.probed_at = self.clock()
            return self.probed is not None
        if does == "SWITCH":
            draws = BUSES.get(aircraft, {}).get(what, {})
            if at not in draws:
                return False
            if at == "bus":
                self.loads = {}
            self.last = draws[at] if at not in self.loads else 0.0
            self.loads[at] = draws[at]
            self.switched_at = self.clock()
            return True
        self.awake = what in DEVICES.get(aircraft, ())
        self.woken_at = self.clock()
        return self.awake

    def ohms(self) -> float:
        """What the multimeter shows with its leads; open, where it lies on nothing."""
        if self.probed is None:
            return 1e9
        swing = 0.2 * self._not_yet(self.probed_at)
        return self.probed + LEADS_OHM + swing + self.chance.gauss(0.0, 0.00005)

    def amps(self) -> float:
        """What the ammeter of the bus shows: what was put in last draws more at first."""
        rush = self.last * INRUSH * self._not_yet(self.switched_at)
        return sum(self.loads.values()) + rush + self.chance.gauss(0.0, 0.002)

    def signal(self) -> float:
        """What the detector shows, % of its scale."""
        t = self.clock() - self.woken_at
        if not self.awake:
            return 0.0
        down = min(1.0, max(0.0, (t - TEST_S) / FALLS_S))
        return FULL + (CLEAN - FULL) * down + (self.chance.uniform(-0.6, 0.6) if down == 1.0 else 0)

    def _not_yet(self, since: float) -> float:
        return max(0.0, 1.0 - (self.clock() - since) / SETTLES_S)
