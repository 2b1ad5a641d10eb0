"""Recording half-turns that were made: what they reopen follows in the same transaction."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Any

from core.basis.refused import Refused
from core.controls.linkage.document import Document
from core.controls.linkage.surface_travel import reached
from server.accounts.models import Person
from server.aircraft.models import Bay
from server.controls.facts import current_round
from server.controls.linkage.built import built_rod, lengths_of, rod_states, stops_of
from server.controls.linkage.jam_nuts import loosen
from server.controls.linkage.keeping import document_of
from server.controls.linkage.models import Adjustment, Mechanism
from server.controls.linkage.saying import said_of
from server.controls.models import Control, Round
from server.journal.writing import note
from server.kit.ports import loose_ends

Places = dict[tuple[str, str], float | None]
# A surface counts as touched when the linkage puts it elsewhere by more than this, rad or m.
TOUCHED = 1e-9
FARTHEST = 200


def record(
    control: Control,
    m: Mechanism,
    changes: dict[str, int],
    said: str,
    forecast: list[Any],
    by: Person,
) -> Adjustment:
    """Keep what was turned, begin a round for what it moves, leave the jam nuts loose.

    changes: half-turns by rod or stop (+ longer, + q). The control is locked by the caller.
    Refuses unknown names, what cannot be turned, and nothing.
    """
    d = document_of(m)
    before = _places(m, d)
    turned = {k: n for k, n in changes.items() if n}
    if not turned:
        raise Refused("changes", "nothing was turned")
    for name, n in turned.items():
        _turn(m, name, n, by)
    m.version, m.changed_by = m.version + 1, by
    m.save()
    after = _places(m, d)
    affected = sorted(
        {
            d.outputs[o].surface
            for (o, p), value in after.items()
            if d.outputs[o].surface and _moved(before[o, p], value)
        }
    )
    words = "; ".join(said_of(m, name, n) for name, n in turned.items())
    row = Adjustment.objects.create(
        mechanism=m,
        changes=turned,
        predicted=forecast,
        affects=affected,
        note=said.strip(),
        round=_new_round(control, affected, words, by),
        by=by,
        at=datetime.now(UTC),
    )
    _loosen(m, d, [k for k in turned if k in d.plan.lengths], by)
    bays = list(
        control.surfaces.filter(slug__in=affected, bay__isnull=False).values_list(
            "bay__slug", flat=True
        )
    )
    note(m.aircraft, by, "rigging", words, bays, f"controls/{control.slug}/linkage", True)
    return row


def _places(m: Mechanism, d: Document) -> Places:
    lengths, at = lengths_of(m, d), stops_of(m)
    return {(o, r.position): r.value for o in d.outputs for r in reached(d, o, lengths, at)}


def _moved(before: float | None, after: float | None) -> bool:
    if before is None or after is None:
        return before is not after
    return abs(before - after) > TOUCHED


def _turn(m: Mechanism, name: str, n: int, by: Person) -> None:
    at = f"changes.{name}"
    if isinstance(n, bool) or not isinstance(n, int):
        raise Refused(at, "must be whole half-turns")
    rod = m.rods.filter(slug=name).first()
    row: Any = rod or m.stops.filter(slug=name).first()
    if row is None:
        raise Refused(at, "is neither a rod nor a stop of this linkage")
    if abs(row.half_turns + n) > FARTHEST:
        raise Refused(at, "is more than any thread here: check the number")
    if rod is not None:
        if built_rod(rod).step is None:
            raise Refused(at, "enter first how it is turned, with both thread pitches")
    elif row.step is None:
        raise Refused(at, "is a stop that cannot be turned")
    row.half_turns += n
    row.version, row.changed_by = row.version + 1, by
    row.save()


def _new_round(control: Control, affected: list[str], words: str, by: Person) -> Round:
    """A round that carries what the rework did not touch."""
    last = current_round(control)
    untouched = control.surfaces.exclude(slug__in=affected).values_list("slug", flat=True)
    return Round.objects.create(
        control=control,
        number=last.number + 1,
        reason=words[:200],
        carries=sorted(untouched),
        started_by=by,
        started_at=datetime.now(UTC),
    )


def _loosen(m: Mechanism, d: Document, rods: list[str], by: Person) -> None:
    """The jam nuts of a turned rod are loose until they are tightened and marked."""
    places = {b.slug: b for b in Bay.objects.filter(aircraft=m.aircraft_id)}
    for state in rod_states(m, d):
        if state["id"] not in rods:
            continue
        if loosen(m, m.rods.get(slug=state["id"]), by, "the rod was turned"):
            continue
        plain = state["id"].replace("_", " ")
        bay = next((places[e["bay"]] for e in state["ends"] if e["bay"]), None)
        loose_ends().leave(
            m.aircraft,
            by,
            f"Jam nuts of {plain} loose; both ends to be checked at the inspection hole",
            "jam nuts tightened and marked",
            "the rod was turned",
            bay,
        )
