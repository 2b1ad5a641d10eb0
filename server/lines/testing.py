"""A leak test from what was typed, and what was done to a line."""

from __future__ import annotations

import math
from collections.abc import Iterable
from datetime import UTC, datetime
from itertools import pairwise
from typing import Any

from core.basis.quantities import parse
from core.basis.refused import Refused
from core.lines.tested import Done, told
from core.rulebook import rule
from server.accounts.models import Person
from server.kit.records import held
from server.lines.models import LineEvent
from server.runs.models import Run

RULE = "lines.leak_decay"
# The form's field: (the rule's name, dimension, unit).
FIELDS = {
    "volume": ("volume_m3", "volume", "l"),
    "start_gauge": ("start_gauge_Pa", "pressure", "kPa"),
    "end_gauge": ("end_gauge_Pa", "pressure", "kPa"),
    "start_temperature": ("start_temp_K", "temperature", "C"),
    "end_temperature": ("end_temp_K", "temperature", "C"),
    "start_barometer": ("start_baro_Pa", "pressure", "hPa"),
    "end_barometer": ("end_baro_Pa", "pressure", "hPa"),
    "max_test": ("max_test_Pa", "pressure", "kPa"),
    "allowed": ("allowed_std_m3_s", "volume", "ml"),
    "u_gauge": ("u_gauge_Pa", "pressure", "kPa"),
    "u_barometer": ("u_baro_Pa", "pressure", "hPa"),
}
OPTIONAL = ("allowed", "u_gauge", "u_barometer")
NAMES = {name: typed for typed, (name, _, _) in FIELDS.items()} | {
    "duration_s": "minutes",
    "u_temp_K": "u_temperature",
    "u_volume_rel": "u_volume",
}


def inputs_of(typed: dict[str, str]) -> dict[str, Any]:
    """Under the rule's names, SI. Refuses by the form's fields."""
    found: dict[str, Any] = {}
    for field, (name, kind, unit) in FIELDS.items():
        text = typed[field].strip()
        if not text:
            if field in OPTIONAL:
                continue
            raise Refused(field, "is needed")
        found[name] = parse(text, kind, unit, field).si
    if "allowed_std_m3_s" in found:
        found["allowed_std_m3_s"] /= 60.0  # Typed for a minute.
    found["duration_s"] = 60.0 * _number(typed, "minutes")
    if typed["u_temperature"].strip():
        found["u_temp_K"] = _number(typed, "u_temperature")
    if typed["u_volume"].strip():
        found["u_volume_rel"] = _number(typed, "u_volume") / 100.0
    return found


def _number(typed: dict[str, str], field: str) -> float:
    return parse(typed[field], "number", "1", field).si


def worked(typed: dict[str, str]) -> tuple[dict[str, Any], dict[str, Any]]:
    """The test's inputs and what the rule says of them."""
    inputs = inputs_of(typed)
    try:
        return inputs, rule(RULE).run(inputs)
    except Refused as refusal:
        raise Refused(NAMES.get(refusal.field, refusal.field), refusal.reason) from None


def _rising(series: list[list[float]]) -> None:
    """Refuses what was read live where its times do not rise, or a value is no number."""
    if any(not math.isfinite(x) for row in series for x in row):
        raise Refused("series", "must be numbers")
    if any(b[0] <= a[0] for a, b in pairwise(series)):
        raise Refused("series", "its times must rise")


def record(r: Run, doing: str, typed: dict[str, Any], by: Person, note: str) -> LineEvent:
    """Keep one thing done to a locked run."""
    inputs, result = worked(typed) if doing == "leak test" else ({}, {})
    _rising(typed.get("series", []))
    if inputs and not typed["source"].strip():
        raise Refused("source", "say where the test pressure and the allowed leak stand")
    return LineEvent.objects.create(
        aircraft=r.aircraft,
        run=r,
        doing=doing,
        typed=typed if doing == "leak test" else {},
        rule=RULE if inputs else "",
        inputs=inputs,
        result=result,
        by=by,
        at=datetime.now(UTC),
        note=note,
    )


def events_of(r: Run) -> list[LineEvent]:
    """All of a line, oldest first."""
    return list(LineEvent.objects.filter(run=r).select_related("by").order_by("id"))


def done_of(events: Iterable[LineEvent]) -> list[Done]:
    """Those that hold, as the core takes them."""
    return [
        Done(
            e.doing,
            e.at.date().isoformat(),
            e.by.name,
            e.inputs,
            e.result,
            e.typed.get("source", ""),
        )
        for e in held(events)
    ]


def said_of(e: LineEvent) -> str:
    """One thing done, in words."""
    if e.doing == "leak test":
        return told(e.result, e.inputs)
    return "Opened." if e.doing == "opened" else e.note
