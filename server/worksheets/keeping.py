"""A worksheet from what was typed: worked out once, so that what cannot be is refused."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date
from typing import Any

from core.basis.refused import Refused
from core.worksheets.kinds import kind_of
from core.worksheets.reading import clean
from server.aircraft.models import Aircraft, Bay, Source
from server.worksheets.models import Worksheet
from server.worksheets.working import needs_source, worked


def source_of(aircraft: Aircraft, key: int | None) -> Source | None:
    """The document of that key. Refuses one of another aircraft."""
    if key is None:
        return None
    found = Source.objects.filter(aircraft=aircraft, pk=key).first()
    if found is None:
        raise Refused("source", "is not one of this aircraft's documents")
    return found


def typed_of(given: Mapping[str, Any]) -> dict[str, Any]:
    """What was typed, by the kind's fields."""
    if not isinstance(given["typed"], dict):
        raise Refused("typed", "must be the kind's fields")
    return given["typed"]


def put(w: Worksheet, given: Mapping[str, Any]) -> None:
    """What was typed, worked out once so that what cannot be is refused."""
    w.name = " ".join(given["name"].split())
    if not w.name:
        raise Refused("name", "is needed")
    if w.pk and w.kind != given["kind"]:
        raise Refused("kind", "stays: a sheet of another kind is a new sheet")
    kind = kind_of(given["kind"])
    known = set(Bay.objects.filter(aircraft=w.aircraft).values_list("slug", flat=True))
    for b in given["bays"]:
        if b not in known:
            raise Refused("bays", f"{b} is not a bay of this aircraft")
    w.kind, w.bays, w.page = kind.id, sorted(set(given["bays"])), given["page"]
    w.source = source_of(w.aircraft, given["source"])
    typed = typed_of(given)
    worked(w.aircraft, kind, w.name, typed, date.today(), w.cited)
    w.typed = clean(kind, typed)
    needs_source(kind, w.typed, w.source)
