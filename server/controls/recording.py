"""Readings from what was typed: understood, checked against instrument and surface, kept."""

from __future__ import annotations

import math
from datetime import UTC, datetime, timedelta
from typing import Any

from core.basis.quantities import Quantity, format_quantity, parse, parse_many
from core.basis.refused import Refused
from core.controls import edge_offset, swept
from core.controls.travel import measurement, suits
from server.accounts.models import Person
from server.controls.assess import Judging
from server.controls.facts import Held, hold, measured, store
from server.controls.facts import covered as covered_facts
from server.controls.facts import scope as scope_name
from server.controls.models import Control, Reading, Surface
from server.controls.sets import core_surface, sets_of
from server.instruments.models import Instrument
from server.signoff import facts as signoff

PRACTICES = {
    "edge_offset": edge_offset.PRACTICES,
    "swept_gauge": swept.PRACTICES,
}
# The core's names of what is one field in the row.
IN_THE_ROW = {
    **dict.fromkeys(("offset", "readings", "reading", "included", "values"), "value"),
    "face": "instrument",
    "neutral": "value",
}
CLOCKS_DIFFER = timedelta(minutes=2)


def build(read: Judging, given: dict[str, Any], by: Person, is_check: bool) -> list[Reading]:
    """Readings not yet saved, one for each value typed, beside a control's rows as read.

    Refuses, by the row's field names, whatever is not understood or cannot be.
    """
    control = read.control
    surface = _surface(read, given["surface"])
    if given["position"] not in control.positions:
        said = ", ".join(p.replace("_", " ") for p in control.positions)
        raise Refused("position", f"must be one of: {said}")
    instrument = _instrument(read, given)
    taken_at = (given.get("taken_at") or datetime.now(UTC)).astimezone(UTC)
    if taken_at > datetime.now(UTC) + CLOCKS_DIFFER:
        raise Refused("taken_at", "lies in the future")
    if instrument.calibration_due and instrument.calibration_due < taken_at.date():
        due = instrument.calibration_due.isoformat()
        raise Refused("instrument", f"its calibration was due on {due}: use another, or renew it")
    values = parse_many(given["value"], instrument.kind, given.get("unit") or _unit(instrument))
    rows = [_row(control, surface, instrument, given, v, by, is_check) for v in values]
    for row in rows:
        row.round = read.rounds[-1]
        row.taken_at = taken_at
        _check(surface, row)
    return rows


def understood(rows: list[Reading]) -> list[dict[str, Any]]:
    """What each value was understood as."""
    said = []
    for r in rows:
        length = r.method == "edge_offset"
        of, unit = ("length", "mm") if length else ("angle", "deg")
        shown = format_quantity(r.value, of, unit, 2)
        if r.unit in ("in", "ft"):
            shown = f"{_inches(r.value)} = {shown}"
        value = r.value * (1e3 if length else math.degrees(1.0))
        said.append({"as_typed": r.as_typed, "value": value, "unit": r.unit, "said": shown})
    return said


def _inches(value: float) -> str:
    """Inches as a fraction where it is one, else as a decimal."""
    fraction = format_quantity(value, "length", "in", fraction=64)
    exact = abs(parse(fraction, "length", "in").si - value) < 1e-7
    return fraction if exact else format_quantity(value, "length", "in", 3)


def touched(control: Control, read: Judging | None = None) -> Held:
    """After a change: judge again, keep the verdicts and the revisions of the facts.

    `read`: the rows as they stand after it, where readings were taken and nothing else.
    """
    held = hold(control, read=read)
    store(held)

    def whole() -> list[tuple[str, Any]]:
        return covered_facts(control, held)

    if read is None:
        signoff.keep(control.aircraft, scope_name(control), whole())
    else:
        # Of all that is covered, the readings taken just now and the results alone can be new.
        new = measured(held, read.taken)
        signoff.keep(control.aircraft, scope_name(control), new, whole)
    return held


def corrected(old: Reading, given: dict[str, Any], by: Person) -> Reading:
    """The row that replaces `old`: another value, or a withdrawal."""
    if len(given["reason"].strip()) < 3:
        raise Refused("reason", "say why it is corrected")
    row = Reading.objects.get(pk=old.pk)
    row.pk, row.corrects, row.first_id = None, old, old.chain_id
    row._state.adding = True
    row.rev, row.reason, row.withdrawn = old.rev + 1, given["reason"], given["withdraw"]
    row.taken_by = by
    row.taken_at = datetime.now(UTC)
    if not given["withdraw"]:
        kind = "length" if old.method == "edge_offset" else "angle"
        value = parse(given["value"], kind, old.unit)
        row.value, row.as_typed, row.unit = value.si, value.as_typed, value.unit
        _check(old.surface, row)
    return row


def _surface(read: Judging, slug: str) -> Surface:
    found = next((s for s in read.surfaces if s.slug == slug), None)
    if found is None:
        raise Refused("surface", "is not a surface of this control")
    return found


def _instrument(read: Judging, given: dict[str, Any]) -> Instrument:
    found = next((i for i in read.instruments if i.pk == given["instrument"]), None)
    if found is None:
        raise Refused("instrument", "is not one of this aircraft's instruments")
    wanted = "length" if given["method"] == "edge_offset" else "angle"
    if found.kind != wanted:
        raise Refused("instrument", f"this way of measuring needs an instrument for {wanted}s")
    allowed = PRACTICES.get(given["method"])
    if allowed and given.get("practice") not in allowed:
        said = ", ".join(p.replace("_", " ") for p in allowed)
        raise Refused("practice", f"must be one of: {said}")
    return found


def _unit(instrument: Instrument) -> str:
    return "deg" if instrument.kind == "angle" else "mm"


def _row(
    control: Control,
    surface: Surface,
    instrument: Instrument,
    given: dict[str, Any],
    value: Quantity,
    by: Person,
    is_check: bool,
) -> Reading:
    included = given["method"] == "included_angle"
    plain = given["method"] == "edge_offset"
    return Reading(
        aircraft_id=control.aircraft_id,
        surface=surface,
        position=given["position"],
        method=given["method"],
        practice=given.get("practice", "") if given["method"] in PRACTICES else "",
        value=value.si,
        as_typed=value.as_typed,
        unit=value.unit,
        instrument=instrument,
        instrument_was=_as_it_is(instrument),
        zero="level" if plain or included else given.get("zero", "level"),
        sense=1 if plain or included else given.get("sense", 1),
        side=given.get("side") if instrument.face == "quadrant_90" and not included else None,
        skin=given.get("skin", "") or ("upper" if included else ""),
        place=given.get("place", ""),
        approach=given.get("approach", "") if given["position"] == "neutral" else "",
        conditions=_conditions(given.get("conditions") or {}),
        check_reading=is_check,
        taken_by=by,
    )


def _as_it_is(i: Instrument) -> dict[str, Any]:
    return {
        "name": i.name,
        "accuracy": i.accuracy,
        "accuracy_typed": i.accuracy_typed,
        "resolution": i.resolution,
        "resolution_typed": i.resolution_typed,
        "face": i.face,
        "calibrated_on": i.calibrated_on.isoformat() if i.calibrated_on else "",
        "calibration_due": i.calibration_due.isoformat() if i.calibration_due else "",
    }


def _conditions(given: dict[str, Any]) -> dict[str, Any]:
    """Conditions with what was typed and, beside it, the value in SI."""
    kept: dict[str, Any] = {k: v for k, v in given.items() if v not in ("", None)}
    if given.get("temperature"):
        kept["temperature_k"] = parse(given["temperature"], "temperature", "C", "temperature").si
    for field in ("gap", "arm"):
        if given.get(field):
            length = parse(given[field], "length", "mm", field).si
            if length < 0 or (field == "arm" and length == 0):
                raise Refused(field, "must be greater than zero")
            kept[f"{field}_m"] = length
    if "gap_m" in kept and "arm_m" not in kept:
        raise Refused("arm", "is needed with a gap")
    return kept


def _check(surface: Surface, row: Reading) -> None:
    """Refuse now what the core could never judge, under the row's field names."""
    try:
        (one,) = sets_of(surface, row.position, [row], [])
        neutral = row.position == "neutral"
        suits(core_surface(surface), one.core, neutral)
        if not neutral:
            measurement(core_surface(surface), one.core)
    except Refused as refusal:
        field = IN_THE_ROW.get(refusal.field, refusal.field)
        raise Refused(field, refusal.reason) from None
