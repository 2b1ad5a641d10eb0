"""What moves in an aircraft, asked of every trade that knows some of it, in their order.

A trade tells the tables of what it moves (`core.runs.moved`); a later one is given what earlier
ones told, so that a cable follows the lever that drives it.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable

from django.db.models import Model

from core.runs.moved import Beyond, Movement
from server.kit import dirty
from server.kit.trade import watch, whole

Tells = Callable[[int, Beyond, Movement], Movement]
_told: list[tuple[int, Tells, tuple[type[Model], ...]]] = []
_readers: list[str] = []


def moves(rank: int, *models: type[Model]) -> Callable[[Tells], Tells]:
    """Register who tells what moves, in which order, and whose rows it follows from."""

    def kept(tells: Tells) -> Tells:
        _told.append((rank, tells, models))
        _told.sort(key=lambda one: one[0])
        for trade in _readers:
            _watched(trade, models)
        return tells

    return kept


def reads_movement(trade: str) -> None:
    """This trade is judged anew when anything that moves changes."""
    _readers.append(trade)
    for _, _, models in _told:
        _watched(trade, models)


def _watched(trade: str, models: Iterable[type[Model]]) -> None:
    for model in models:
        watch(trade, model, whole)


def moves_farther(aircraft: int) -> None:
    """A control was measured to move farther, or no more so far, than it is permitted."""
    for trade in _readers:
        dirty.mark(aircraft, trade)


def movement(aircraft: int, beyond: Beyond) -> Movement:
    """All that moves."""
    found = Movement()
    for _, tells, _ in _told:
        found += tells(aircraft, beyond, found)
    return found
