"""What is routed through an aircraft, asked of every trade that has some of it.

A trade tells its runs here; one that must keep clear of them reads them, and is judged anew when
any of them changes.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable

from django.db.models import Model

from core.runs.beside import Beside
from server.kit.trade import watch, whole

Tells = Callable[[int], Iterable[Beside]]
_told: list[tuple[Tells, tuple[type[Model], ...]]] = []
_readers: list[str] = []


def routes(*models: type[Model]) -> Callable[[Tells], Tells]:
    """Register who tells runs of an aircraft, and whose rows they follow from."""

    def kept(tells: Tells) -> Tells:
        _told.append((tells, models))
        for trade in _readers:
            _watched(trade, models)
        return tells

    return kept


def reads_routes(trade: str) -> None:
    """This trade is judged anew when any run changes."""
    _readers.append(trade)
    for _, models in _told:
        _watched(trade, models)


def _watched(trade: str, models: Iterable[type[Model]]) -> None:
    for model in models:
        watch(trade, model, whole)


def routed(aircraft: int) -> tuple[Beside, ...]:
    """All of them."""
    return tuple(b for tells, _ in _told for b in tells(aircraft))
