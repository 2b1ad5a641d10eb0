"""Keeping what can be found current: each capability says how its rows are described."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

from django.contrib.postgres.search import SearchVector
from django.db.models import Model, QuerySet, Value
from django.db.models.signals import post_delete, post_save

from core.runs.bays import Box
from server.aircraft.models import Aircraft
from server.config.bounds import AT_ONCE
from server.find.models import Findable
from server.kit.placing import boxes_of


@dataclass(frozen=True)
class Found:
    """A row in words, with where it is. An empty title: not to be found any more."""

    kind: str
    key: str
    title: str
    text: str = ""
    bays: tuple[str, ...] = ()
    point_m: list[float] | None = None
    link: str = ""
    aircraft: int = 0
    more: tuple[str, ...] = field(default=())


class Boxes:
    """The bays of each aircraft as boxes, read once, while some of its rows are described."""

    def __init__(self) -> None:
        self._read: dict[int, list[Box]] = {}

    def of(self, aircraft: int) -> list[Box]:
        """Those of one aircraft, in their order."""
        if aircraft not in self._read:
            self._read[aircraft] = boxes_of(aircraft)
        return self._read[aircraft]


Describe = Callable[[Any, Boxes], Found]
Affects = Callable[[Any], QuerySet[Any]]


@dataclass(frozen=True)
class _Described:
    describe: Describe
    joins: tuple[str, ...]
    gathers: tuple[str, ...]

    def all_of(self, rows: QuerySet[Any], boxes: Boxes) -> list[Found]:
        """These rows in words, read with what they stand on."""
        read = rows.select_related(*self.joins) if self.joins else rows
        return [self.describe(row, boxes) for row in read.prefetch_related(*self.gathers)]


_described: list[tuple[type[Model], _Described]] = []


def findable(
    model: type[Model],
    follows: Mapping[type[Model], Affects] | None = None,
    joins: tuple[str, ...] = (),
    gathers: tuple[str, ...] = (),
) -> Callable[[Describe], Describe]:
    """Make a model's rows findable; the index follows every save and delete.

    follows: other models whose rows change how rows of this one are described. joins, gathers:
    what a row stands on and what stands on it, read along with many.
    """

    def add(describe: Describe) -> Describe:
        how = _Described(describe, joins, gathers)
        _described.append((model, how))

        def saved(sender: Any, instance: Any, raw: bool = False, **_: Any) -> None:
            if not raw:
                keep([describe(instance, Boxes())])

        def gone(sender: Any, instance: Any, **_: Any) -> None:
            _drop(describe(instance, Boxes()))

        post_save.connect(saved, sender=model, weak=False)
        post_delete.connect(gone, sender=model, weak=False)
        for other, affects in (follows or {}).items():
            _follow(how, other, affects)
        return describe

    return add


def _follow(how: _Described, other: type[Model], affects: Affects) -> None:
    def changed(sender: Any, instance: Any, raw: bool = False, **_: Any) -> None:
        if not raw:
            keep(how.all_of(affects(instance), Boxes()))

    post_save.connect(changed, sender=other, weak=False)
    post_delete.connect(changed, sender=other, weak=False)


def keep(found: Sequence[Found]) -> None:
    """Write rows of the index."""
    for ended in (f for f in found if not f.title):
        _drop(ended)
    if rows := [_row(f) for f in found if f.title]:
        Findable.objects.bulk_create(
            rows,
            update_conflicts=True,
            unique_fields=["aircraft", "kind", "key"],
            update_fields=["title", "text", "bays", "point_m", "link", "words"],
        )


def _drop(found: Found) -> None:
    mine = Findable.objects.filter(aircraft=found.aircraft, kind=found.kind, key=found.key)
    mine.delete()


def _row(found: Found) -> Findable:
    words = " ".join(re.findall(r"\w+", f"{found.text} {' '.join(found.more)}"))
    return Findable(
        aircraft_id=found.aircraft,
        kind=found.kind,
        key=found.key,
        title=found.title[:200],
        text=found.text,
        bays=list(found.bays),
        point_m=found.point_m,
        link=found.link,
        words=SearchVector(Value(found.title), weight="A", config="simple")
        + SearchVector(Value(words), weight="B", config="simple"),
    )


def described(aircraft: Aircraft) -> Iterable[Findable]:
    """The index of an aircraft made anew, not saved."""
    boxes = Boxes()
    for model, how in _described:
        rows = model._default_manager.filter(aircraft=aircraft)
        yield from (_row(found) for found in how.all_of(rows, boxes) if found.title)


def rebuild(aircraft: Aircraft) -> int:
    """Write the whole index of one aircraft anew; how many rows it has."""
    Findable.objects.filter(aircraft=aircraft).delete()
    Findable.objects.bulk_create(described(aircraft), batch_size=AT_ONCE)
    return Findable.objects.filter(aircraft=aircraft).count()
