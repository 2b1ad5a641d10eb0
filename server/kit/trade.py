"""A trade declares what it judges, and which rows put which of its subjects in question."""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterable, Mapping
from dataclasses import dataclass, field
from typing import Any

from django.db.models import Model
from django.db.models.signals import m2m_changed, post_delete, post_save

from core.basis.checks import Check
from server.kit import dirty

# The trade that tells which bays nobody described.
DESCRIBED = "bays"
Subjects = Collection[str] | None


@dataclass(frozen=True)
class Judged:
    """A subject of a trade with its checks; `order`: where it stands among the others."""

    subject: str
    checks: tuple[Check, ...]
    order: int = 0


# From an aircraft's key and the subjects asked for (None: all) to what stands.
Judge = Callable[[int, Subjects], Iterable[Judged]]
# From a saved or deleted row to what it puts in question: (aircraft, subject or "" for all).
Touches = Callable[[Any], Iterable[tuple[int, str]]]


@dataclass(frozen=True)
class Trade:
    """A name, its rank in lists, how it judges, what it watches, which bays it knows.

    knows None: it need not know every bay. known_by: the rows (each of an aircraft) on which
    it hangs which bays it knows.
    """

    name: str
    rank: int
    judge: Judge
    watches: Mapping[type[Model], Touches] = field(default_factory=dict)
    knows: Callable[[int], Iterable[str]] | None = None
    known_by: tuple[type[Model], ...] = ()


_trades: dict[str, Trade] = {}


def declare(trade: Trade) -> Trade:
    """Add a trade; from now on its checks follow every save of what it watches."""
    if trade.name in _trades:
        raise ValueError(f"the trade {trade.name} is declared twice")
    _trades[trade.name] = trade
    for model, touches in trade.watches.items():
        watch(trade.name, model, touches)
    for model in trade.known_by:
        watch(DESCRIBED, model, whole)
    return trade


def watch(name: str, model: type[Model], touches: Touches) -> None:
    """Rows of this model put subjects of a trade in question whenever they are saved or go."""

    def changed(sender: Any, instance: Any, raw: bool = False, **_: Any) -> None:
        if not raw:
            for aircraft, subject in touches(instance):
                dirty.mark(aircraft, name, subject)

    if model._meta.auto_created:
        m2m_changed.connect(changed, sender=model, weak=False)
        return
    post_save.connect(changed, sender=model, weak=False)
    post_delete.connect(changed, sender=model, weak=False)


def trades() -> Mapping[str, Trade]:
    """All trades by name."""
    return _trades


def whole(instance: Any) -> Iterable[tuple[int, str]]:
    """A row that puts all subjects of its aircraft in question."""
    yield instance.aircraft_id, ""
