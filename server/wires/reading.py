"""Rows and what was done to wires into the harness that the core judges."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping

from core.basis.refused import Refused
from core.runs.beside import BUNDLE
from core.wiring.finishing import STEPS
from core.wiring.harness import WIRE, Harness, Row
from server.aircraft.models import Aircraft
from server.kit.records import held
from server.kit.routed import routed
from server.wires.models import HarnessRow, WireEvent
from server.worksheets.rows import among


def row_of(r: HarnessRow, events: Iterable[WireEvent] = ()) -> Row:
    """A row as the core takes it. Refuses by the form's fields what cannot be read."""
    standing = held(events)
    done = {e.doing for e in standing}
    tests = [e.inputs for e in standing if e.doing == "tested"]
    return Row(
        r.kind,
        r.slug,
        r.name,
        r.values(),
        tuple(s for s in STEPS if s in done),
        tests[-1] if tests else {},
        r.cited,
        tuple({"doing": e.doing, "nr": e.pk} | e.inputs for e in standing),
    )


def events_of(aircraft: int) -> Mapping[int, list[WireEvent]]:
    """What was done, by wire, oldest first."""
    found: dict[int, list[WireEvent]] = defaultdict(list)
    rows = WireEvent.objects.filter(aircraft=aircraft).select_related("by").order_by("id")
    for e in rows:
        found[e.row_id].append(e)
    return found


def rows_of(aircraft: int) -> list[HarnessRow]:
    """All rows of an aircraft as kept."""
    return list(HarnessRow.objects.filter(aircraft=aircraft).select_related("source", "aircraft"))


def harness_of(aircraft: Aircraft, instead: HarnessRow | None = None) -> Harness:
    """All rows of an aircraft; `instead`: one as it would be."""
    rows = among(rows_of(aircraft.pk), instead)
    return harness_from(aircraft, rows, events_of(aircraft.pk))


def harness_from(
    aircraft: Aircraft, rows: Iterable[HarnessRow], done: Mapping[int, list[WireEvent]]
) -> Harness:
    """These rows with what was done, beside what else is routed there."""
    read = tuple(row_of(r, done.get(r.pk, ())) for r in rows)
    others = (b for b in routed(aircraft.pk) if b.kind != BUNDLE)
    return Harness(read, tuple(others))


def wire_in(h: Harness, slug: str) -> Row:
    """The wire of that address. Refuses what is none."""
    found = next((r for r in h.of(WIRE) if r.slug == slug), None)
    if found is None:
        raise Refused("wire", "is not a wire")
    return found
