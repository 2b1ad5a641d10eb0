"""What would have to be known better before a value too close to a limit can be called."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from core.basis.refused import Refused, finite, not_negative

# How many standard uncertainties make the expanded one of a value derived from others.
K = 2.0
# What asks for more than this many times the accuracy of now is not asked for: this product's.
MOST_FINER = 10.0


@dataclass(frozen=True)
class Part:
    """One thing that a value is made of: its standard uncertainty in its own unit, and by how
    much the value changes for one unit of it."""

    name: str
    u: float
    sensitivity: float = 1.0

    @property
    def share(self) -> float:
        """Its contribution, in the value's unit."""
        return abs(self.sensitivity) * self.u


@dataclass(frozen=True)
class Surer:
    """What to know better: the fewest parts, and the expanded uncertainty each may have, in its
    own unit."""

    names: tuple[str, ...]
    U: tuple[float, ...]


def would_settle(away: float, parts: Sequence[Part]) -> Surer | None:
    """For a value that is `away` from its nearest limit (either side; the value's unit).

    Parts that weigh most come first; what is left for those named is shared out alike. None:
    the value lies on the limit, or so near that nobody could tell. Refuses no parts, and an
    uncertainty below zero.
    """
    if not parts:
        raise Refused("parts", "needs a value")
    room = (abs(finite(away, "away")) / K) ** 2
    for p in parts:
        not_negative(p.u, p.name)
    ordered = sorted((p for p in parts if p.share > 0.0), key=lambda p: -p.share)
    for count in range(1, len(ordered) + 1):
        left = room - math.fsum(p.share**2 for p in ordered[count:])
        if left > 0.0:
            chosen = ordered[:count]
            each = math.sqrt(left / count)
            if chosen[0].share > MOST_FINER * each:
                return None
            allowed = tuple(K * each / abs(p.sensitivity) for p in chosen)
            return Surer(tuple(p.name for p in chosen), allowed)
    return None


def rounded_down(value: float) -> str:
    """To two figures, down: what is as good as said must be good enough. "0" from zero down."""
    if value <= 0.0:
        return "0"
    digits = 1 - math.floor(math.log10(value))
    factor = 10.0**digits
    return f"{math.floor(value * factor) / factor:g}"
