"""Bays as boxes of the airframe: limits that make sense, and which overlap."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from core.basis.refused import Refused, finite
from core.runs.bays import Box, overlapping

PARTS = ("fuselage", "left wing", "right wing", "left tail", "right tail", "fin")
# Parts that are told off along the butt line; a fin is along the water line, the rest along
# the station.
SPANWISE = ("left wing", "right wing", "left tail", "right tail")
AXES = ("station", "butt line", "water line")
LEAST_M = 0.01
# Bays that are further apart than this leave a gap, m.
GAP_M = 0.001
MOST_M = 60.0


@dataclass(frozen=True)
class Limits:
    """Station, butt line (right +) and water line (up +) ranges, m."""

    x: tuple[float, float]
    y: tuple[float, float]
    z: tuple[float, float]

    def box(self, name: str) -> Box:
        """As a box of that name."""
        return Box(name, (self.x[0], self.y[0], self.z[0]), (self.x[1], self.y[1], self.z[1]))


def checked_limits(given: Sequence[tuple[float, float]], field: str = "limits") -> Limits:
    """Limits of a bay; refuses ranges inside out, too thin, or larger than any kit aircraft.

    given: (low, high) of station, butt line and water line, m.
    """
    for name, (low, high) in zip(AXES, given, strict=True):
        for value in (low, high):
            if abs(finite(value, field)) > MOST_M:
                raise Refused(field, f"{name} {value:g} m is beyond any aircraft: check the unit")
        if low >= high:
            raise Refused(field, f"{name}: the low limit must be below the high one")
        if high - low < LEAST_M:
            raise Refused(field, f"{name}: a bay is at least {LEAST_M * 1e3:.0f} mm wide")
    x, y, z = given
    return Limits(x, y, z)


def overlaps(bays: dict[str, Limits]) -> tuple[tuple[str, str], ...]:
    """Pairs of bays that share a volume; walls that touch do not count."""
    return overlapping([limits.box(name) for name, limits in bays.items()])


def gaps(bays: dict[str, tuple[str, Limits]]) -> tuple[tuple[str, str, float], ...]:
    """Where a part's bays leave a stretch between them in none: (bay, next bay, m).

    bays: (part, limits) by name. Looked at along the part: the station of the fuselage, the
    butt line of wings and tail, the water line of the fin.
    """
    found = []
    for part in PARTS:
        axis = "y" if part in SPANWISE else "z" if part == "fin" else "x"
        rows = sorted((*getattr(x, axis), name) for name, (of, x) in bays.items() if of == part)
        reach, last = -MOST_M * 2.0, ""
        for low, high, name in rows:
            if last and low - reach > GAP_M:
                found.append((last, name, low - reach))
            if high > reach:
                reach, last = high, name
    return tuple(found)
