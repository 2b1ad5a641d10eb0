"""What the holes that a cable goes through make of it, wherever its levers stand."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import replace

from core.basis.checks import Check
from core.basis.refused import Refused
from core.basis.verdicts import worst
from core.cables.document import Cable
from core.cables.rigging import POSITIONS, Rigged
from core.runs.holes import check_holes, holes_checks

DEG = math.degrees(1.0)
# Every so many positions of the sweep, both ends and neutral among them.
EACH = 25
ORIGINS = {
    "pts": "the cable as drawn, at this position",
    "bulkheads": "entered for this cable",
    "supports": "what was said to guard the edges",
    "radius": "the cable's construction and size",
    "tol": "this product's own",
    "edge_gap": "entered for this cable",
}


def refuse_holes(rigged: Rigged) -> None:
    """Refuses (`sides.A.holes`) holes that the cable at neutral does not pass."""
    for side, cable in rigged.rigging.cables.items():
        if cable.holes:
            try:
                check_holes(rigged.way(side), cable.holes)
            except Refused as refusal:
                raise Refused(f"sides.{side}.holes", refusal.reason) from None


def hole_checks(rigged: Rigged) -> Iterable[Check]:
    """Of each cable: whether it goes through its holes clear of their edges at every position."""
    return rigged.once("holes", lambda: tuple(_checks(rigged)))


def _checks(rigged: Rigged) -> Iterable[Check]:
    for cable in rigged.rigging.cables.values():
        found = [_at(rigged, cable, n) for n in _positions(cable)]
        for same in zip(*found, strict=True):
            yield _worst(rigged, cable, same)


def _positions(cable: Cable) -> Sequence[int]:
    """Which positions of the sweep are looked at: neutral first."""
    middle = POSITIONS // 2
    if not cable.holes:
        return (middle,)
    return (middle, *(n for n in range(0, POSITIONS, EACH) if n != middle))


def _at(rigged: Rigged, cable: Cable, n: int) -> list[tuple[int, Check]]:
    s = rigged.states[n]
    way = rigged.way(cable.side, s.driver_rad, s.middle_rad)
    radius = cable.data.diameter_m / 2.0
    return [(n, c) for c in holes_checks(way, radius, cable.holes, cable.edge_gap_m, ORIGINS)]


def _worst(rigged: Rigged, cable: Cable, found: Sequence[tuple[int, Check]]) -> Check:
    """The check of the position that is worst; where none is worse than neutral, of neutral."""
    word = worst(c.verdict for _, c in found)
    n, c = next(pair for pair in found if pair[1].verdict is word)
    said = c.said
    if n != POSITIONS // 2:
        angle = rigged.states[n].driver_rad * DEG
        said = f"With the {rigged.rigging.bodies[0] or 'driver'} at {angle:+.1f}°: {said}"
    return replace(
        c,
        key=f"{c.key} {cable.side}",
        what=f"{cable.name}: {c.what}",
        said=said,
        part="route",
        side=cable.side,
    )
