"""What else is routed through the aircraft, as one run meets it: its ways and its thickness."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

Way = Sequence[Sequence[float]]
TUBE, CABLE, BUNDLE = "tube", "control cable", "bundle"


@dataclass(frozen=True)
class Beside:
    """kind: tube, control cable or bundle. ways: its corners, m; of what moves one for each
    position that is looked at. service: what a tube carries. moves: where each way is taken, in
    words. radius_m, U_m: None while nobody said that. held_to: what it is clamped apart to;
    guarded: what a guard keeps it from."""

    kind: str
    slug: str
    name: str
    radius_m: float | None
    ways: tuple[Way, ...]
    service: str = ""
    moves: tuple[str, ...] = ()
    link: str = ""
    U_m: float | None = None
    supports_m: tuple[float, ...] = ()
    held_to: tuple[str, ...] = ()
    guarded: tuple[str, ...] = ()


def at_station(way: Way, station: float) -> list[tuple[float, float]]:
    """Where a way passes a station: butt line and water line, m; where it lies along it, its
    middle there."""
    found: list[tuple[float, float]] = []
    for a, b in pairwise(way):
        if min(a[0], b[0]) <= station <= max(a[0], b[0]):
            span = b[0] - a[0]
            t = 0.5 if span == 0.0 else (station - a[0]) / span
            at = (a[1] + t * (b[1] - a[1]), a[2] + t * (b[2] - a[2]))
            # A corner belongs to both of its legs.
            if at not in found:
                found.append(at)
    return found
