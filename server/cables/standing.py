"""What stands: the rows of a loop that hold, and the same as plain data for the core."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from functools import cached_property
from typing import Any

from core.cables.done import Did, Done, Read, left_showing
from server.cables.models import Cable, CableEvent, CableReading, Loop
from server.kit.records import held


@dataclass
class Stands:
    """A loop's readings and events that hold, oldest first, and what they mean to the core."""

    loop: Loop
    readings: list[CableReading]
    events: list[CableEvent]

    @cached_property
    def done(self) -> Done:
        """As the core takes it."""
        return Done(
            [_read(r) for r in self.readings],
            [Did(e.doing, e.side, e.at, e.data, e.inputs, e.result) for e in self.events],
            {c.side: showing(c) for c in self.loop.sides.all()},
        )


def stands(loop: Loop) -> Stands:
    """From the rows."""
    readings = list(
        CableReading.objects.filter(loop=loop)
        .select_related("by", "instrument")
        .order_by("at", "id")
    )
    gone = {r.withdraws_id for r in readings if r.withdraws_id}
    events = list(CableEvent.objects.filter(loop=loop).select_related("by").order_by("at", "id"))
    kept = [r for r in readings if r.pk not in gone and not r.withdraws_id]
    return Stands(loop, kept, held(events))


def done_of(loop: Loop) -> Done:
    """What was done to a loop, as the core takes it."""
    return stands(loop).done


def _read(r: CableReading) -> Read:
    due = r.instrument_was.get("calibration_due") or ""
    return Read(
        r.pk,
        r.side,
        r.method,
        r.value,
        r.u,
        r.at,
        r.temperature_K,
        date.fromisoformat(due) if due else None,
        r.rule,
        r.inputs,
        measured(r),
    )


def measured(r: CableReading) -> str:
    """By whom, when and with what it was measured."""
    tool = f" with {r.instrument_was['name']}" if r.instrument_was.get("name") else ""
    return f"measured {r.at.date().isoformat()} by {r.by.name}{tool}"


def showing(cable: Cable) -> tuple[float, float] | None:
    """Thread outside at both ends now: as counted, less what was turned since."""
    counted: Any = (cable.turnbuckle or {}).get("showing")
    pair = (float(counted[0]), float(counted[1])) if counted else None
    return left_showing(pair, cable.turns, cable.counted_at)
