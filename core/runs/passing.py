"""A run through bulkheads: each hole, its edge and what guards it (`clearance.pass_throughs`)."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

from core.basis.forms import Named, Unit
from core.basis.refused import Refused, finite, not_negative, positive
from core.basis.rules import rule
from core.runs.bays import Point
from core.runs.path import Points, corners, distances
from core.runs.words import CAUTION

GUARDS = ("grommet", "pass_through", "fairlead", "bulkhead_fitting")
PROTECTED, NO_HOLE = "protected", "no hole"
CLEAR, UNPROTECTED = "clearance only", "unprotected"
EVEN = 1e-12


@dataclass(frozen=True)
class Round:
    """A round hole in a bulkhead."""

    y: Annotated[float, "Butt line of its centre.", Unit("m")]
    z: Annotated[float, "Water line of its centre.", Unit("m")]
    d: Annotated[float, "Its diameter.", Unit("m")]


@dataclass(frozen=True)
class Plate:
    """A bulkhead: a plane at a station, within its outline."""

    id: Annotated[str, "What it is called."]
    station: Annotated[float, "Where it stands.", Unit("m")]
    outline: Annotated[tuple[tuple[float, float], ...], "Corners [butt line, water line], m."]
    holes: Annotated[tuple[Round, ...], "Its round holes."]


@dataclass(frozen=True)
class Support:
    """What holds or guards a run."""

    s: Annotated[float, "Distance along the corners.", Unit("m")]
    kind: Annotated[str, "clamp, fairlead, grommet, pass_through, bulkhead_fitting or pulley."]


@dataclass(frozen=True)
class Crossing:
    """Where a run goes through a bulkhead."""

    bulkhead: Annotated[str, "Which."]
    s: Annotated[float, "Distance along the corners.", Unit("m")]
    point: Annotated[tuple[float, float, float], "Where, m."]
    edge_gap: Annotated[float | None, "To the hole's edge; null: no hole.", Unit("m")]
    state: Annotated[str, "protected, no hole, clearance only or unprotected."]


@rule(
    "clearance.pass_throughs",
    title="A run through bulkheads",
    purpose="Does the run go through a hole everywhere, and what keeps it off the edge?",
    source="Geometry; how near to a bare edge is too near is your rule, or the document you cite.",
    validity="Round holes in plates square to the length; a clamp is no guard of an edge.",
    caution=CAUTION,
)
def pass_throughs(
    pts: Points,
    bulkheads: Annotated[tuple[Plate, ...], "id, station, outline, holes."],
    supports: Annotated[tuple[Support, ...], "s, kind."],
    radius: Annotated[float, "Of the run, with its sleeve.", Unit("m")],
    tol: Annotated[float, "How near to the plate a guard counts.", Unit("m")],
    edge_gap: Annotated[float, "Gap to an edge that needs no guard.", Unit("m")],
) -> Annotated[tuple[Crossing, ...], "By the distance along the run.", Named("value")]:
    """Every crossing. A run that lies in the plane crosses at its first point there, if it goes
    on to the other side."""
    line = corners(pts)
    half, near = not_negative(radius, "radius"), not_negative(tol, "tol")
    least = not_negative(edge_gap, "edge_gap")
    guards = [finite(x.s, "supports") for x in supports if x.kind in GUARDS]
    found = []
    for plate in bulkheads:
        for s, at in crossings(line, finite(plate.station, f"bulkheads.{plate.id}")):
            if not within(at[1], at[2], plate.outline):
                continue
            gap = max((_gap(at, h, half) for h in plate.holes), default=-1.0)
            if gap < 0.0:
                state = NO_HOLE
            elif any(abs(g - s) <= near for g in guards):
                state = PROTECTED
            else:
                state = CLEAR if gap >= least - EVEN else UNPROTECTED
            found.append(Crossing(plate.id, s, at, gap if gap >= 0.0 else None, state))
    return tuple(sorted(found, key=lambda c: c.s))


def _gap(at: Point, hole: Round, radius: float) -> float:
    offset = math.hypot(at[1] - finite(hole.y, "holes"), at[2] - finite(hole.z, "holes"))
    return positive(hole.d, "holes") / 2.0 - offset - radius


def crossings(line: Sequence[Point], station: float) -> list[tuple[float, Point]]:
    """Where a line changes the side of a plane at a station: distance along it and point, m."""
    at = distances(line)
    found: list[tuple[float, Point]] = []
    side, touched = 0.0, None
    for n, p in enumerate(line):
        d = p[0] - station
        if d == 0.0:
            touched = touched or (at[n], p)
            continue
        if side * d < 0.0:
            found.append(touched or _between(line[n - 1], p, at[n - 1], station))
        side, touched = d, None
    return found


def _between(a: Point, b: Point, s: float, station: float) -> tuple[float, Point]:
    share = (station - a[0]) / (b[0] - a[0])
    y, z = (p + share * (q - p) for p, q in zip(a[1:], b[1:], strict=True))
    return s + share * math.dist(a, b), (station, y, z)


def within(y: float, z: float, outline: Sequence[Sequence[float]]) -> bool:
    """Whether a point lies inside a polygon, its edge included."""
    if len(outline) < 3:
        raise Refused("bulkheads", "an outline needs at least three corners")
    inside = False
    for (ay, az), (by, bz) in zip(outline, [*outline[1:], outline[0]], strict=True):
        across = (by - ay) * (z - az) - (bz - az) * (y - ay)
        beside = min(ay, by) <= y <= max(ay, by) and min(az, bz) <= z <= max(az, bz)
        if abs(across) <= EVEN and beside:
            return True
        if (az > z) != (bz > z) and y < ay + (z - az) / (bz - az) * (by - ay):
            inside = not inside
    return inside
