"""Checks into their bays: by where they are, or along the whole of their subject."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import replace

from core.basis.checks import Check
from core.rulebook import rule
from core.runs.bays import Box, bays_of, run_in_bays
from server.aircraft.models import Bay

Way = Sequence[Sequence[float]]


def boxes_of(aircraft: int) -> list[Box]:
    """The bays of an aircraft as boxes, in their order."""
    return [b.box for b in Bay.objects.filter(aircraft=aircraft)]


def bay_at(at: Sequence[float], boxes: Sequence[Box]) -> tuple[str, ...]:
    """The first bay that holds a place; none if it lies outside all."""
    return bays_of(at, boxes)[:1] if at else ()


def nearest_bay(at: Sequence[float], boxes: Sequence[Box]) -> tuple[str, ...]:
    """The bay that holds a place, else the nearest one; none if there is no place or no bay."""
    if not at or not boxes:
        return ()

    def away(b: Box) -> float:
        beyond = [max(lo - x, 0.0, x - hi) for lo, x, hi in zip(b.lo, at, b.hi, strict=True)]
        return math.hypot(*beyond)

    return (min(boxes, key=away).id,)


def passed(ways: Iterable[Way], boxes: Sequence[Box]) -> tuple[str, ...]:
    """The bays that any of these ways passes, in their order."""
    found: set[str] = set()
    for way in ways:
        found |= {b for b, stretches in run_in_bays(way, boxes).items() if stretches}
    return tuple(b.id for b in boxes if b.id in found)


def placed(checks: Iterable[Check], boxes: Sequence[Box], ways: Iterable[Way] = ()) -> list[Check]:
    """Each check in its bay; those without a place in all bays of the others and in those that
    its ways pass."""
    found = [c if c.bays else replace(c, bays=bay_at(c.at, boxes)) for c in checks]
    whole = dict.fromkeys(b for c in found for b in c.bays)
    every = (*whole, *(b for b in passed(ways, boxes) if b not in whole))
    return [c if c.bays else replace(c, bays=every) for c in found]


def with_editions(checks: Iterable[Check]) -> list[Check]:
    """Each check with the edition of its rule."""
    return [replace(c, edition=rule(c.rule).edition) if c.rule else c for c in checks]
