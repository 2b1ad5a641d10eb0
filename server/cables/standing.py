"""What stands: readings since the last turn, things done and not taken back, thread now."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field
from typing import Any

from server.cables.models import Cable, CableEvent, CableReading, Loop

# Tensions measured at temperatures further apart than this are not compared, K.
SAME_K = 1.5


@dataclass
class Stands:
    """A loop's readings and events that hold, oldest first; turns and locks by side."""

    readings: list[CableReading] = field(default_factory=list)
    events: list[CableEvent] = field(default_factory=list)

    def done(self, doing: str, side: str = "") -> list[CableEvent]:
        """Things done of one kind on one side."""
        return [e for e in self.events if e.doing == doing and side in ("", e.side)]

    def last(self, doing: str, side: str = "") -> CableEvent | None:
        """The last of them."""
        found = self.done(doing, side)
        return found[-1] if found else None

    @property
    def last_turn(self) -> CableEvent | None:
        """The last turn on either side: it changes the tension of both."""
        return self.last("turned")

    def current(self, side: str) -> list[CableReading]:
        """Tension readings of a side since the last turn: the last of each way of measuring."""
        since = self.last_turn
        rows = [
            r
            for r in self.readings
            if r.side == side and r.method != "straight" and (since is None or r.at > since.at)
        ]
        return list({r.method: r for r in rows}.values())

    def straight(self) -> CableReading | None:
        """Where the driven lever stands, measured since the last turn."""
        since = self.last_turn
        rows = [
            r
            for r in self.readings
            if r.method == "straight" and (since is None or r.at > since.at)
        ]
        return rows[-1] if rows else None

    def safetied(self, side: str) -> bool:
        """Whether the lock of a side's turnbuckle is on; turning takes it off."""
        for e in reversed(self.events):
            if e.side == side and e.doing in ("turned", "unsafetied"):
                return False
            if e.side == side and e.doing == "safetied":
                return True
        return False


def stands(loop: Loop) -> Stands:
    """From the rows."""
    readings = list(
        CableReading.objects.filter(loop=loop)
        .select_related("by", "instrument")
        .order_by("at", "id")
    )
    gone = {r.withdraws_id for r in readings if r.withdraws_id}
    events = list(CableEvent.objects.filter(loop=loop).select_related("by").order_by("at", "id"))
    return Stands([r for r in readings if r.pk not in gone and not r.withdraws_id], held(events))


def held(events: Iterable[CableEvent]) -> list[CableEvent]:
    """The events that were not taken back."""
    rows = list(events)
    undone = {e.undoes_id for e in rows if e.undoes_id}
    return [e for e in rows if e.pk not in undone and e.doing != "undone"]


def showing(cable: Cable) -> tuple[float, float] | None:
    """Thread outside at both ends now: as counted, less what was turned since."""
    counted: Any = (cable.turnbuckle or {}).get("showing")
    if not counted:
        return None
    since = cable.turns - cable.counted_at
    return float(counted[0]) - since, float(counted[1]) - since
