"""What an arm can still reach: openings and items of an aircraft as the core takes them."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from core.clearance.reach import Item, Opening, Reach, reach
from core.runs.bays import Box
from server.aircraft.models import Aircraft, Bay, Closure
from server.aircraft.models import Opening as Row

OUTSIDE = "outside"


@dataclass(frozen=True)
class Airframe:
    """Bays and openings of one aircraft, read once."""

    aircraft: Aircraft
    bays: list[Box]
    openings: list[Opening]
    names: dict[str, str]
    of_closure: dict[str, list[str]]

    @property
    def has_arm(self) -> bool:
        """Whether the user has entered an arm."""
        return self.aircraft.arm_m is not None and self.aircraft.arm_width_m is not None

    def reach(self, items: Sequence[Item], closing: Iterable[str] = ()) -> dict[str, Reach]:
        """For each item, its status after closing these closures (by slug)."""
        assert self.aircraft.arm_m is not None and self.aircraft.arm_width_m is not None
        shut = [o for c in closing for o in self.of_closure.get(c, [])]
        arm, width = self.aircraft.arm_m, self.aircraft.arm_width_m
        return reach(items, self.bays, self.openings, shut, arm, width)


def airframe(aircraft: Aircraft) -> Airframe:
    """In two queries."""
    bays = [b.box for b in Bay.objects.filter(aircraft=aircraft)]
    rows = list(Row.objects.filter(aircraft=aircraft).select_related("bay_a", "bay_b", "closure"))
    of_closure: dict[str, list[str]] = {}
    for o in rows:
        if o.closure:
            of_closure.setdefault(o.closure.slug, []).append(o.slug)
    return Airframe(
        aircraft,
        bays,
        [_opening(o) for o in rows],
        {o.slug: o.closure.name if o.closure else o.name for o in rows},
        of_closure,
    )


def _opening(o: Row) -> Opening:
    closure: Closure | None = o.closure
    kind = None if closure is None else ("permanent" if closure.permanent else "removable")
    return Opening(
        id=o.slug,
        between=(OUTSIDE if o.bay_b is None else o.bay_b.slug, o.bay_a.slug),
        box=Box(o.slug, (o.lo_m[0], o.lo_m[1], o.lo_m[2]), (o.hi_m[0], o.hi_m[1], o.hi_m[2])),
        width=o.width_m,
        closure=kind,
        open=closure is None or not closure.closed,
    )


def item(key: str, point: Sequence[float], two_hands: bool = False) -> Item:
    """Something to reach."""
    return Item(key, (point[0], point[1], point[2]), two_hands)


def said(found: Reach, names: dict[str, str]) -> str:
    """The way in words: now, or what must be opened."""
    way = ", then ".join(names.get(p, p) for p in found.path)
    length = "" if found.reach is None else f", {found.reach * 1e3:.0f} mm of arm"
    if found.status == "now":
        return f"Reached now through {way}{length}"
    if found.status == "by opening":
        return f"Open {way}{length}"
    if not found.path or found.reach is None:
        return "Out of reach: no way in is open or can be opened"
    return f"Out of reach: needs {found.reach * 1e3:.0f} mm of arm through {way}"
