"""A worksheet worked out: read by its kind, its things found, its rules asked."""

from __future__ import annotations

import json
from collections.abc import Callable, Iterable, Mapping
from copy import deepcopy
from dataclasses import dataclass, replace
from datetime import date
from functools import lru_cache
from typing import Any

from core.basis.refused import Refused
from core.worksheets.kinds import Asked, Field, Kind, Worked, kind_of, work
from core.worksheets.reading import read
from server.aircraft.models import Aircraft, Source
from server.worksheets.models import Worksheet


def _nowhere(_aircraft: int, _address: str) -> tuple[str, ...]:
    return ()


@dataclass(frozen=True)
class Offer:
    """What a trade offers worksheets to be about.

    kind: as such a thing is called where it is taken away. find: by aircraft's key and address,
    None: there is none. listed: (address, in words) of all. bays: where it is.
    """

    kind: str
    find: Callable[[int, str], Any]
    listed: Callable[[int], Iterable[tuple[str, str]]]
    bays: Callable[[int, str], tuple[str, ...]] = _nowhere


_offers: dict[str, list[Offer]] = {}


def offer(name: str, things: Offer) -> None:
    """Things under a name that a field of worksheets asks for; several trades may add to it."""
    _offers.setdefault(name, []).append(things)


def offered(name: str, aircraft: int) -> list[tuple[str, str]]:
    """All that may be chosen under this name: address and words."""
    return [row for o in _offers.get(name, []) for row in o.listed(aircraft)]


def name_of(kind: Kind, f: Field) -> str:
    """Under which name the things of a field are offered."""
    return f.things or kind.trade


def cites(w: Worksheet, kind: str) -> set[str]:
    """The addresses that a sheet names of things of this kind."""
    fields = [f for f in w.of.fields if f.of == "thing" and w.typed.get(f.key)]
    return {
        w.typed[f.key]
        for f in fields
        if any(o.kind == kind for o in _offers.get(name_of(w.of, f), []))
    }


def worked(
    aircraft: Aircraft, kind: Kind, name: str, typed: Mapping[str, Any], today: date, cited: str
) -> Worked:
    """What the rules say of it. Refuses by the form's fields."""

    def thing(f: Field, address: str) -> Any:
        found = (o.find(aircraft.pk, address) for o in _offers.get(name_of(kind, f), []))
        return next((x for x in found if x is not None), None)

    values, found = read(kind, typed, aircraft.length_unit, thing)
    given = json.dumps(values, sort_keys=True)
    done = _work(kind.id, name, given, today, cited, tuple(sorted(found.items())))
    return replace(done, figure=deepcopy(done.figure))


@lru_cache(maxsize=256)
def _work(
    kind: str, name: str, given: str, today: date, cited: str, things: tuple[tuple[str, Any], ...]
) -> Worked:
    """What follows from what was entered alone: worked out once for all who ask."""
    return work(kind_of(kind), Asked(name, json.loads(given), today, cited, dict(things)))


def kept(w: Worksheet) -> Worked:
    """A kept sheet, as of the day on which it was entered."""
    return worked(w.aircraft, w.of, w.name, w.typed, w.changed_at.date(), w.cited)


def bays_of(w: Worksheet, every: tuple[str, ...]) -> tuple[str, ...]:
    """Where it stands: in the bays it was put in, else where what it is about is, else in all."""
    if w.bays:
        return tuple(b for b in every if b in w.bays)
    fields = [f for f in w.of.fields if f.of == "thing" and w.typed.get(f.key)]
    about = [(o, w.typed[f.key]) for f in fields for o in _offers.get(name_of(w.of, f), [])]
    found = {b for o, address in about for b in o.bays(w.aircraft_id, address)}
    return tuple(b for b in every if b in found) or every


def limits_said(kind: Kind, typed: Mapping[str, Any]) -> dict[str, str]:
    """The limits among what was typed, in words: fields, and columns of tables."""
    found = {f.label: _told(typed.get(f.key)) for f in kind.fields if f.limit}
    for f in kind.fields:
        first = [c.key for c in f.columns[:1]]
        for c in (c for c in f.columns if c.limit and not f.limit):
            rows = [r for r in typed.get(f.key) or [] if r.get(c.key)]
            kept = [{k: r[k] for k in (*first, c.key) if k in r} for r in rows]
            found[f"{f.label}: {c.label.lower()}"] = _told(kept)
    return found


def needs_source(kind: Kind, typed: Mapping[str, Any], source: Source | None) -> None:
    """Refuses a limit without the document it stands in."""
    if source is None and any(limits_said(kind, typed).values()):
        raise Refused("source", "say in which document the limits stand")


def told(w: Worksheet) -> dict[str, str]:
    """What is said on a sheet, in words; its limits are told beside."""
    return {
        "name": w.name,
        "bays": ", ".join(w.bays) or "all",
        **plainly(w.of, w.typed),
    }


def plainly(kind: Kind, typed: Mapping[str, Any]) -> dict[str, str]:
    """What was typed in words, by its fields; limits are told beside."""
    fields = [f for f in kind.fields if not f.limit]
    return {f.label: _told(_plain(f, typed.get(f.key))) for f in fields}


def _plain(f: Field, given: Any) -> Any:
    """What was typed in a field without the limits in its columns."""
    limits = {c.key for c in f.columns if c.limit}
    if not limits:
        return given
    return [{k: x for k, x in row.items() if k not in limits} for row in given or []]


def limits_told(w: Worksheet) -> dict[str, str]:
    """Its limits and where they stand."""
    return limits_said(w.of, w.typed) | {"document": w.cited}


def _told(given: Any) -> str:
    if isinstance(given, list):
        return "; ".join(" ".join(str(v) for v in row.values()) for row in given)
    return str(given or "")
