"""Tension from an instrument's reading by its calibration card: `cables.card_tension`."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

from core.basis.refused import Refused, not_negative, numbers, positive
from core.basis.rules import rule
from core.basis.uncertainty import sample_deviation
from core.cables.words import CAUTION, WHERE

SAME_SIZE_M = 0.05e-3


@dataclass(frozen=True)
class Table:
    """One riser with one cable size: points (reading in divisions, N), both rising."""

    riser: str
    diameter_m: float
    points: tuple[tuple[float, float], ...]


def checked(tables: Sequence[Table]) -> tuple[Table, ...]:
    """The card itself; refuses tables that are too short or do not rise."""
    if not tables:
        raise Refused("tables", "needs at least one table")
    for i, t in enumerate(tables):
        positive(t.diameter_m, f"tables.{i}.diameter_m")
        if len(t.points) < 2:
            raise Refused(f"tables.{i}.points", "needs at least two points")
        for j, point in enumerate(t.points):
            numbers(point, f"tables.{i}.points.{j}", 2)
        for (r0, n0), (r1, n1) in zip(t.points, t.points[1:], strict=False):
            if r1 <= r0 or n1 <= n0:
                raise Refused("tables", "readings and tensions must both rise")
    return tuple(tables)


@dataclass(frozen=True)
class Carded:
    """Tension, N, its standard uncertainty, and whether it rests on one reading only."""

    tension_N: Annotated[float, "Tension."]
    u_tension_N: Annotated[float, "Standard uncertainty of the tension."]
    single: Annotated[bool, "One reading only."]


@rule(
    "cables.card_tension",
    title="Tension by the instrument's card",
    purpose="Readings converted by the calibration card of the instrument.",
    source="The instrument's calibration card; linear between its points.",
    validity=f"Inside the card only. {WHERE} Past its calibration date it may not be used to sign.",
    caution=CAUTION,
)
def card_tension(
    tables: Annotated[Sequence[Table], "{riser, diameter_m, points [[reading, N]]}."],
    riser: Annotated[str, "Which riser was used."],
    diameter_m: Annotated[float, "Diameter of the cable."],
    readings: Annotated[Sequence[float], "Divisions."],
    u_reading: Annotated[float, "Standard uncertainty, divisions."] = 0.0,
    u_card_N: Annotated[float, "Standard uncertainty of the card."] = 0.0,
) -> Carded:
    """The mean tension of readings (divisions), linear between the card's points.

    Refuses a size the card has no table for, a riser that does not go with it, and readings
    outside the card.
    """
    checked(tables)
    positive(diameter_m, "diameter_m")
    sized = [t for t in tables if abs(t.diameter_m - diameter_m) <= SAME_SIZE_M]
    if not sized:
        raise Refused("diameter_m", "the card has no table for this cable size")
    table = next((t for t in sized if t.riser == riser), None)
    if table is None:
        raise Refused("riser", "the card does not pair this riser with this cable size")
    numbers(readings, "readings")
    not_negative(u_reading, "u_reading")
    not_negative(u_card_N, "u_card_N")
    tensions = [_at(table.points, r)[0] for r in readings]
    n = len(tensions)
    slope = _at(table.points, math.fsum(readings) / n)[1]
    scatter = sample_deviation(tensions) or 0.0
    u = math.sqrt((slope * u_reading) ** 2 + u_card_N**2 + scatter**2 / n)
    return Carded(math.fsum(tensions) / n, u, n == 1)


def _at(points: Sequence[tuple[float, float]], reading: float) -> tuple[float, float]:
    """Tension at a reading, and the slope of the segment from it upward."""
    if not points[0][0] <= reading <= points[-1][0]:
        raise Refused("readings", "outside the card")
    i = max(i for i in range(len(points) - 1) if points[i][0] <= reading)
    (r0, n0), (r1, n1) = points[i], points[i + 1]
    slope = (n1 - n0) / (r1 - r0)
    return n0 + slope * (reading - r0), slope
