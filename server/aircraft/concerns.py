"""How each capability tells the lane and the gates what it has, and where.

A capability registers a provider when its app is ready; lane, gates and lists ask all of
them. One that must know every bay also registers which bays it knows something of.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterable
from dataclasses import dataclass

from core.signoff.closing import Concern, not_described
from server.aircraft.models import Bay, Member, NoneHere

Told = tuple[int, Concern]
Provider = Callable[[list[int]], Iterable[Told]]
Knows = Callable[[int], Iterable[str]]


@dataclass(frozen=True)
class Capability:
    """A name, what it tells, and which bays it knows something of (None: need not)."""

    name: str
    provide: Provider
    knows: Knows | None


_capabilities: list[Capability] = []


def register(name: str, knows: Knows | None = None) -> Callable[[Provider], Provider]:
    """Add a provider: from aircraft keys to concerns, in a bounded number of queries."""

    def add(provide: Provider) -> Provider:
        _capabilities.append(Capability(name, provide, knows))
        return provide

    return add


def owners(aircraft: list[int]) -> dict[int, str]:
    """The builder of each aircraft, whose every concern is that is nobody else's."""
    rows = Member.objects.filter(aircraft__in=aircraft, role="owner")
    return dict(rows.values_list("aircraft", "person__name"))


def must_describe() -> list[str]:
    """The capabilities that must know every bay."""
    return [c.name for c in _capabilities if c.knows]


def of(aircraft: int) -> list[Concern]:
    """Every concern of one aircraft, and where a capability knows nothing of a bay."""
    found = [c for cap in _capabilities for _, c in cap.provide([aircraft])]
    return [*found, *undescribed(aircraft)]


def undescribed(aircraft: int) -> list[Concern]:
    """Bays of which a capability has no data, and nobody said that there is none."""
    bays = list(Bay.objects.filter(aircraft=aircraft).values_list("slug", flat=True))
    return not_described(bays, _known(aircraft))


def unknown_to(aircraft: int, bay: str) -> list[str]:
    """The capabilities that know nothing of this bay."""
    return [name for name, bays in _known(aircraft).items() if bay not in bays]


def _known(aircraft: int) -> dict[str, set[str]]:
    """The bays that each capability knows something of, or that a person said hold none."""
    known = {c.name: set(c.knows(aircraft)) for c in _capabilities if c.knows}
    for bay, name in NoneHere.objects.filter(bay__aircraft=aircraft).values_list(
        "bay__slug", "capability"
    ):
        known.get(name, set()).add(bay)
    return known


def counts(aircraft: list[int]) -> dict[int, Counter[str]]:
    """How many of each verdict, for several aircraft."""
    found: dict[int, Counter[str]] = {key: Counter() for key in aircraft}
    for capability in _capabilities:
        for plane, concern in capability.provide(aircraft):
            found[plane][concern.verdict.value] += 1
    return found
