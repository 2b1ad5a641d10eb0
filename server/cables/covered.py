"""What of the cables a signature on their control covers, and what keeps it from being signed."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from core.cables.lever import SIDES
from core.signoff.canonical import canonical_hash, figure
from server.cables.keeping import file_of
from server.cables.models import CableEvent, CableReading, Loop
from server.cables.standing import stands
from server.controls.models import Control
from server.kit.ports import Worked, also_covers, also_needs, also_worked
from server.kit.standing import of_subject


@also_covers
def facts_of(control: Control) -> Iterable[tuple[str, Any]]:
    """The file, each check's verdict, each reading since the last turn, each thing done."""
    loop = Loop.objects.filter(control=control).first()
    if loop is None:
        return
    file = file_of(loop)
    yield (
        f"cables/{loop.pk}",
        {"name": loop.name or "cables", "file": canonical_hash(_as_text(file))},
    )
    for c in of_subject(loop.aircraft_id, "cables", str(loop.pk)):
        value = {"name": c.what, "said": c.said, "verdict": c.verdict}
        if c.rule:
            value |= {"rule": c.rule, "edition": str(c.edition)}
        yield f"cable check/{loop.pk} {c.key}", value
    stand = stands(loop)
    current = {r.key for side in SIDES for r in stand.done.current(side)}
    for r in stand.readings:
        if r.pk in current:
            yield f"cable reading/{r.pk}", reading_value(r)
    for e in stand.events:
        yield f"cable event/{e.pk}", event_value(e)


def _as_text(value: Any) -> Any:
    """Numbers as text, so that the hash does not hang on how a number is written."""
    if isinstance(value, dict):
        return {k: _as_text(v) for k, v in value.items()}
    if isinstance(value, list):
        return [_as_text(v) for v in value]
    if isinstance(value, bool) or value is None or isinstance(value, str):
        return value
    return figure(float(value))


def reading_value(r: CableReading) -> dict[str, Any]:
    """A reading as signed."""
    return {
        "name": f"tension, side {r.side}",
        "as_typed": {k: str(v) for k, v in sorted(r.typed.items())},
        "value": figure(r.value),
        "u": figure(r.u),
        "method": r.method,
        "temperature": figure(r.temperature_K),
        "instrument": {k: str(v) for k, v in sorted(r.instrument_was.items())},
        "taken_by": r.by.slug,
        "taken_at": r.at.strftime("%Y-%m-%dT%H:%M:%SZ"),
    }


def event_value(e: CableEvent) -> dict[str, Any]:
    """A thing done, as signed."""
    return {
        "name": f"{e.doing} {e.side}".strip(),
        "inputs": canonical_hash(_as_text(e.inputs | e.data)),
        "by": e.by.slug,
        "at": e.at.strftime("%Y-%m-%dT%H:%M:%SZ"),
    }


@also_needs
def in_the_way(control: Control) -> Iterable[str]:
    """Checks that are not in."""
    loop = Loop.objects.filter(control=control).first()
    if loop is None:
        return
    rows = of_subject(loop.aircraft_id, "cables", str(loop.pk))
    bad = [c for c in rows if c.verdict not in ("in", "accepted")]
    if bad:
        listed = "; ".join(f"{c.what}: {c.verdict}" for c in bad)
        yield f"Cables: {listed}."


@also_worked
def worked(control: Control) -> Iterable[Worked]:
    """Who measured, turned, locked, pressed or looked at the cables; a check reading is none."""
    loops = Loop.objects.filter(control=control)
    yield from CableEvent.objects.filter(loop__in=loops).values_list("by__slug", "at")
    rows = CableReading.objects.filter(loop__in=loops, check_reading=False)
    yield from rows.values_list("by__slug", "at")
