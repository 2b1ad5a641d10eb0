"""A cable as it is laid, and what is found along it."""

from __future__ import annotations

import math
from dataclasses import dataclass

from core.basis.vectors import Vec
from core.basis.verdicts import Verdict
from core.cables.document import Cable, Support
from core.cables.forces import Force
from core.cables.loop import State
from core.cables.path import Path
from core.cables.route import (
    Fairlead,
    Gap,
    PulleyCheck,
)


@dataclass(frozen=True)
class Laid:
    """One cable as it lies: its path, length with all fittings, m, and its compliance, m/N."""

    cable: Cable
    path: Path
    length_m: float
    compliance_m_per_N: float

    @property
    def fittings_m(self) -> float:
        """Length taken by what is in its line and does not stretch."""
        return math.fsum(f.high_m - f.low_m for f in self.cable.fittings)

    @property
    def wire_m(self) -> float:
        """Length of the cable itself."""
        return self.length_m - self.fittings_m


@dataclass(frozen=True)
class Near:
    """A moving fitting and the support that it comes nearest to."""

    side: str
    fitting: str
    support: str
    at: Vec
    travel_m: tuple[float, float]
    gap: Gap
    driver_rad: float


@dataclass(frozen=True)
class AtSupport:
    """What a cable does at a support, at its worst through the travel."""

    side: str
    support: Support
    fairlead: Fairlead | None
    pulley: PulleyCheck | None
    worst_at_rad: float
    force: Force


@dataclass(frozen=True)
class Through:
    """Tension through the travel: states, and how far it leaves the tension at neutral."""

    states: tuple[State, ...]
    lowest_N: float
    highest_N: float
    neutral_N: float
    share: float
    verdict: Verdict
