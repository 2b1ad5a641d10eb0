"""Rows and what was done to weighings into the book that the core judges."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping

from core.weight.book import Book, Row
from server.aircraft.models import Aircraft
from server.kit.records import held
from server.weight.models import WeightEvent, WeightRow
from server.worksheets.rows import among


def row_of(r: WeightRow, events: Iterable[WeightEvent] = ()) -> Row:
    """A row as the core takes it. Refuses by the form's fields what cannot be read."""
    log = tuple({"doing": e.doing, "nr": e.pk} | e.inputs for e in held(events))
    return Row(r.kind, r.slug, r.name, r.values(), r.cited, log)


def read_kept(r: WeightRow) -> Row:
    """With what was done to it."""
    return row_of(r, r.events.order_by("id") if r.pk else ())


def events_of(aircraft: int) -> Mapping[int, list[WeightEvent]]:
    """What was done, by row, oldest first."""
    found: dict[int, list[WeightEvent]] = defaultdict(list)
    rows = WeightEvent.objects.filter(aircraft=aircraft).select_related("by").order_by("id")
    for e in rows:
        found[e.row_id].append(e)
    return found


def rows_of(aircraft: int) -> list[WeightRow]:
    """All rows of an aircraft as kept."""
    rows = WeightRow.objects.filter(aircraft=aircraft)
    return list(rows.select_related("source", "aircraft"))


def book_of(aircraft: Aircraft, instead: WeightRow | None = None) -> Book:
    """All rows of an aircraft; `instead`: one as it would be."""
    return book_from(among(rows_of(aircraft.pk), instead), events_of(aircraft.pk))


def book_from(rows: Iterable[WeightRow], done: Mapping[int, list[WeightEvent]]) -> Book:
    """These rows with what was done."""
    return Book(tuple(row_of(r, done.get(r.pk, ())) for r in rows))
