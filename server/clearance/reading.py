"""Rows, and what other trades tell, into the scene that the core judges."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import replace

from core.clearance.scene import Row, Scene, beyond_of
from core.clearance.standing import Done
from server.aircraft.models import Aircraft
from server.clearance.models import ClearanceRow, PairEvent
from server.kit.moving import movement
from server.kit.records import held
from server.kit.routed import routed
from server.worksheets.rows import among


def row_of(r: ClearanceRow) -> Row:
    """A row as the core takes it. Refuses by the form's fields what cannot be read."""
    return Row(r.kind, r.slug, r.name, r.values(), r.cited)


def rows_of(aircraft: int) -> list[ClearanceRow]:
    """All rows of an aircraft as kept."""
    rows = ClearanceRow.objects.filter(aircraft=aircraft)
    return list(rows.select_related("source", "aircraft"))


def scene_of(aircraft: Aircraft, instead: ClearanceRow | None = None) -> Scene:
    """All of an aircraft; `instead`: one row as it would be."""
    return scene_from(aircraft, among(rows_of(aircraft.pk), instead))


def scene_from(aircraft: Aircraft, kept: Sequence[ClearanceRow]) -> Scene:
    """These rows, beside what is routed and what moves."""
    rows = tuple(row_of(r) for r in kept)
    names = aircraft.controls.values_list("name", "slug")
    controls = {name.casefold(): slug for name, slug in names}
    moves = movement(aircraft.pk, beyond_of(rows, controls))
    return Scene(rows, routed(aircraft.pk), moves, controls)


def events_of(aircraft: int) -> Mapping[str, list[PairEvent]]:
    """What was done and holds, by pair, oldest first."""
    found: dict[str, list[PairEvent]] = defaultdict(list)
    rows = PairEvent.objects.filter(aircraft=aircraft).select_related("by").order_by("id")
    for e in held(rows):
        found[e.pair].append(e)
    return found


def log_of(events: Mapping[str, Iterable[PairEvent]]) -> dict[str, list[Done]]:
    """The same as the core takes it."""
    return {
        pair: [
            Done(e.doing, e.pk, e.inputs, e.by.name, f"{e.at:%-d %B %Y}") for e in mine
        ]
        for pair, mine in events.items()
    }  # fmt: skip


def moved_to(scene: Scene, name: str, points: Sequence[Sequence[float]]) -> Scene:
    """The same with a bundle, a tube or a shape's line elsewhere, m."""
    low = name.casefold()
    beside = tuple(
        replace(b, ways=(tuple(map(tuple, points)),)) if b.name.casefold() == low else b
        for b in scene.beside
    )
    corners = [{"x_m": p[0], "y_m": p[1], "z_m": p[2]} for p in points]
    rows = tuple(
        replace(r, values={**r.values, "corners": corners})
        if r.kind == "shape" and r.name.casefold() == low and "corners" in r.values
        else r
        for r in scene.rows
    )
    return replace(scene, beside=beside, rows=rows)
