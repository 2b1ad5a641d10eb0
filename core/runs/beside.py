"""What else is routed through the aircraft, as one run meets it: its ways and its thickness."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

Way = Sequence[Sequence[float]]
TUBE, CABLE = "tube", "control cable"


@dataclass(frozen=True)
class Beside:
    """kind: tube or control cable. ways: its corners, m; of what moves one for each position that
    is looked at. service: what a tube carries. moves: where each way is taken, in words."""

    kind: str
    slug: str
    name: str
    radius_m: float
    ways: tuple[Way, ...]
    service: str = ""
    moves: tuple[str, ...] = ()
    link: str = ""


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
