"""A worksheet worked out: read by its kind, its things found, its rules asked."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from datetime import date
from typing import Any

from core.basis.refused import Refused
from core.worksheets.kinds import Asked, Kind, Worked, work
from core.worksheets.reading import read
from server.aircraft.models import Aircraft, Source
from server.worksheets.models import Worksheet

# A trade's things by their address: (aircraft's key, address) -> the thing, or None.
Find = Callable[[int, str], Any]
Bays = Callable[[int, str], tuple[str, ...]]
_things: dict[str, tuple[Find, Bays]] = {}
_kinds: dict[str, str] = {}


def things_of(trade: str, kind: str, find: Find, bays: Bays) -> None:
    """A trade answers for what its worksheets are about, and where that is. kind: as such a
    thing is called where it is taken away."""
    _things[trade], _kinds[trade] = (find, bays), kind


def about_kind(w: Worksheet) -> str:
    """What such a sheet is about; empty for those that are about nothing."""
    return _kinds.get(w.of.trade, "")


def worked(
    aircraft: Aircraft, kind: Kind, name: str, typed: Mapping[str, Any], today: date, cited: str
) -> Worked:
    """What the rules say of it. Refuses by the form's fields."""

    def thing(address: str) -> Any:
        return _things[kind.trade][0](aircraft.pk, address) if kind.trade in _things else None

    values, found = read(kind, typed, aircraft.length_unit, thing)
    return work(kind, Asked(name, values, today, cited, found))


def kept(w: Worksheet) -> Worked:
    """A kept sheet, as of the day on which it was entered."""
    return worked(w.aircraft, w.of, w.name, w.typed, w.changed_at.date(), w.cited)


def bays_of(w: Worksheet, every: tuple[str, ...]) -> tuple[str, ...]:
    """Where it stands: in the bays it was put in, else where what it is about is, else in all."""
    if w.bays:
        return tuple(b for b in every if b in w.bays)
    about = [_things[w.of.trade][1](w.aircraft_id, a) for a in w.cites if w.of.trade in _things]
    found = {b for bays in about for b in bays}
    return tuple(b for b in every if b in found) or every


def limits_said(kind: Kind, typed: Mapping[str, Any]) -> dict[str, str]:
    """The limits among what was typed, in words."""
    return {f.label: _told(typed.get(f.key)) for f in kind.fields if f.limit}


def needs_source(kind: Kind, typed: Mapping[str, Any], source: Source | None) -> None:
    """Refuses a limit without the document it stands in."""
    if source is None and any(limits_said(kind, typed).values()):
        raise Refused("source", "say in which document the limits stand")


def told(w: Worksheet) -> dict[str, str]:
    """What is said on a sheet, in words; its limits are told beside."""
    fields = [f for f in w.of.fields if not f.limit]
    return {
        "name": w.name,
        "bays": ", ".join(w.bays) or "all",
        **{f.label: _told(w.typed.get(f.key)) for f in fields},
    }


def limits_told(w: Worksheet) -> dict[str, str]:
    """Its limits and where they stand."""
    return limits_said(w.of, w.typed) | {"document": w.cited}


def _told(given: Any) -> str:
    if isinstance(given, list):
        return "; ".join(" ".join(str(v) for v in row.values()) for row in given)
    return str(given or "")
