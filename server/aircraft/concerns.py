"""How each capability tells the lane what it has judged, and where.

A capability registers a provider when its app is ready; the lane asks all of them.
"""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Callable, Iterable
from dataclasses import dataclass

from core.basis.verdicts import Verdict


@dataclass(frozen=True)
class Concern:
    """One judged thing: on which aircraft, in which bay (None: not placed), and how."""

    aircraft: int
    bay: int | None
    verdict: Verdict


Provider = Callable[[list[int]], Iterable[Concern]]
_providers: list[Provider] = []


def register(provider: Provider) -> Provider:
    """Add a provider: from aircraft keys to their concerns, in a bounded number of queries."""
    _providers.append(provider)
    return provider


def by_bay(aircraft: int) -> dict[int, list[Verdict]]:
    """Verdicts in each bay of one aircraft."""
    found: dict[int, list[Verdict]] = defaultdict(list)
    for provider in _providers:
        for concern in provider([aircraft]):
            if concern.bay is not None:
                found[concern.bay].append(concern.verdict)
    return dict(found)


def counts(aircraft: list[int]) -> dict[int, Counter[str]]:
    """How many of each verdict, for several aircraft."""
    found: dict[int, Counter[str]] = {key: Counter() for key in aircraft}
    for provider in _providers:
        for concern in provider(aircraft):
            found[concern.aircraft][concern.verdict.value] += 1
    return found
