"""Checks into their bays: by where they are, or along the whole of their subject."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import replace

from core.basis.checks import Check
from core.rulebook import rule
from core.runs.bays import Box, bays_of
from server.aircraft.models import Bay


def boxes_of(aircraft: int) -> list[Box]:
    """The bays of an aircraft as boxes, in their order."""
    return [b.box for b in Bay.objects.filter(aircraft=aircraft)]


def bay_at(at: Sequence[float], boxes: Sequence[Box]) -> tuple[str, ...]:
    """The first bay that holds a place; none if it lies outside all."""
    return bays_of(at, boxes)[:1] if at else ()


def placed(checks: Iterable[Check], boxes: Sequence[Box]) -> list[Check]:
    """Each check in its bay; those without a place in all bays of the others."""
    found = [c if c.bays else replace(c, bays=bay_at(c.at, boxes)) for c in checks]
    whole = tuple(dict.fromkeys(b for c in found for b in c.bays))
    return [c if c.bays else replace(c, bays=whole) for c in found]


def with_editions(checks: Iterable[Check]) -> list[Check]:
    """Each check with the edition of its rule."""
    return [replace(c, edition=rule(c.rule).edition) if c.rule else c for c in checks]
