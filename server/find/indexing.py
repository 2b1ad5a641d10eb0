"""Keeping what can be found current: each capability says how its rows are described."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, field
from typing import Any

from django.contrib.postgres.search import SearchVector
from django.db.models import Model, Value
from django.db.models.signals import post_delete, post_save

from server.aircraft.models import Aircraft
from server.config.bounds import AT_ONCE
from server.find.models import Findable


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


Describe = Callable[[Any], Found]
_described: dict[type[Model], Describe] = {}


Affects = Callable[[Any], Iterable[Any]]


def findable(
    model: type[Model], follows: Mapping[type[Model], Affects] | None = None
) -> Callable[[Describe], Describe]:
    """Make a model's rows findable; the index follows every save and delete.

    follows: other models whose rows change how rows of this one are described.
    """

    def add(describe: Describe) -> Describe:
        _described[model] = describe

        def saved(sender: Any, instance: Any, raw: bool = False, **_: Any) -> None:
            if not raw:
                keep(describe(instance))

        def gone(sender: Any, instance: Any, **_: Any) -> None:
            found = describe(instance)
            rows = Findable.objects.filter(kind=found.kind, key=found.key)
            rows.filter(aircraft=found.aircraft).delete()

        post_save.connect(saved, sender=model, weak=False)
        post_delete.connect(gone, sender=model, weak=False)
        for other, affects in (follows or {}).items():
            _follow(describe, other, affects)
        return describe

    return add


def _follow(describe: Describe, other: type[Model], affects: Affects) -> None:
    def changed(sender: Any, instance: Any, raw: bool = False, **_: Any) -> None:
        if not raw:
            for row in affects(instance):
                keep(describe(row))

    post_save.connect(changed, sender=other, weak=False)
    post_delete.connect(changed, sender=other, weak=False)


def keep(found: Found) -> None:
    """Write one row of the index."""
    if not found.title:
        mine = Findable.objects.filter(aircraft=found.aircraft, kind=found.kind, key=found.key)
        mine.delete()
        return
    Findable.objects.bulk_create(
        [_row(found)],
        update_conflicts=True,
        unique_fields=["aircraft", "kind", "key"],
        update_fields=["title", "text", "bays", "point_m", "link", "words"],
    )


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
    for model, describe in _described.items():
        for row in model._default_manager.filter(aircraft=aircraft):
            found = describe(row)
            if found.title:
                yield _row(found)


def rebuild(aircraft: Aircraft) -> int:
    """Write the whole index of one aircraft anew; how many rows it has."""
    Findable.objects.filter(aircraft=aircraft).delete()
    Findable.objects.bulk_create(described(aircraft), batch_size=AT_ONCE)
    return Findable.objects.filter(aircraft=aircraft).count()
