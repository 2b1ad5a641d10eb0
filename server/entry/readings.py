"""A reading from the entry bar: what the line leaves open is taken from the last one here."""

from __future__ import annotations

from typing import Any

from core.basis.refused import Refused
from core.entry.grammar import Typed
from server.aircraft.models import Aircraft
from server.controls.models import Control, Reading, Surface
from server.instruments.models import Instrument


def as_reading(
    aircraft: Aircraft, control: Control, said: Typed, instruments: list[Instrument]
) -> dict[str, Any]:
    """The reading in full, as the readings form takes it."""
    surface: Surface = control.surfaces.get(slug=said.surface)
    rows = Reading.objects.filter(surface=surface)
    named = next((i for i in instruments if i.name == said.instrument), None)
    if named:
        rows = rows.filter(instrument=named)
    last = rows.filter(position=said.position).last() or rows.last()
    if last is not None:
        return {
            "surface": surface.slug,
            "position": said.position,
            "method": last.method,
            "practice": last.practice,
            "value": said.value,
            "instrument": last.instrument_id,
            "zero": last.zero,
            "sense": last.sense,
            "side": last.side,
            "skin": last.skin,
            "place": last.place,
        }
    if named is None:
        raise Refused("entry", "the first reading here needs an instrument: put its name last")
    length = named.kind == "length"
    return {
        "surface": surface.slug,
        "position": said.position,
        "method": "edge_offset" if length else "gauge_difference",
        "practice": "straight" if length else "",
        "value": said.value,
        "instrument": named.pk,
        "zero": "level",
    }
