"""Along one run: how long it is, how far it may bend, where it is held
(`clearance.run_length`, `largest_equal_radius`, `traced_radius`, `spans`)."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

from core.basis.forms import Named, Unit
from core.basis.refused import Refused, finite, not_negative, positive
from core.basis.rules import rule
from core.basis.vectors import cross, dot, minus, size
from core.runs.bays import Point, point
from core.runs.words import CAUTION

GEOMETRY = "Geometry of a polyline with an arc at each corner."
BACK_RAD = 1e-6
FIT_M = SPAN_M = 1e-9
POINTS = "Points [station, butt line, water line], m."
Points = Annotated[Sequence[Sequence[float]], POINTS]


def corners(pts: Sequence[Sequence[float]], at_least: int = 2) -> list[Point]:
    """Three finite coordinates each. Refuses fewer points than that (`pts`)."""
    if len(pts) < at_least:
        raise Refused("pts", f"needs at least {at_least} points")
    return [point(p, "pts") for p in pts]


def distances(line: Sequence[Point]) -> list[float]:
    """Where each point is along the line, m."""
    return [0.0, *itertools.accumulate(math.dist(a, b) for a, b in itertools.pairwise(line))]


def along(line: Sequence[Point], s: float) -> Point:
    """The point at this distance along; its ends beyond them."""
    at = distances(line)
    for n, (a, b) in enumerate(itertools.pairwise(line)):
        if s <= at[n + 1]:
            share = max(0.0, s - at[n]) / (at[n + 1] - at[n]) if at[n + 1] > at[n] else 0.0
            x, y, z = (p + share * (q - p) for p, q in zip(a, b, strict=True))
            return x, y, z
    return line[-1]


def turning(line: Sequence[Point]) -> list[float]:
    """The angle at each corner, 0 = straight on, rad. Refuses equal points in succession and a
    run that turns back on itself (`pts`)."""
    legs = []
    for a, b in itertools.pairwise(line):
        long = math.dist(a, b)
        if long == 0.0:
            raise Refused("pts", "two successive points are the same")
        legs.append(minus(b, a))
    found = []
    for u, v in itertools.pairwise(legs):
        angle = math.atan2(float(size(cross(u, v))), float(dot(u, v)))
        if angle > math.pi - BACK_RAD:
            raise Refused("pts", "the run turns back on itself")
        found.append(angle)
    return found


@dataclass(frozen=True)
class Length:
    """How long a run is, m, rad."""

    length: Annotated[float, "Along its arcs.", Unit("m")]
    corner_length: Annotated[float, "Along its corners.", Unit("m")]
    angles: Annotated[tuple[float, ...], "At each inner point."]
    tangents: Annotated[tuple[float, ...], "What the arc takes of each leg beside it."]


@rule(
    "clearance.run_length",
    title="How long a run is",
    purpose="How long is a run whose corners are bent to these radii?",
    source=GEOMETRY,
    validity="Arcs of constant radius, tangent to both legs.",
    caution=CAUTION,
)
def run_length(
    pts: Points, radii: Annotated[Sequence[float], "Centre-line radius at each inner point, m."]
) -> Length:
    """Length along the arcs. Refuses bends that do not fit on their legs (`radii`)."""
    line = corners(pts)
    angles = turning(line)
    if len(radii) != len(angles):
        raise Refused("radii", f"needs one for each inner point: {len(angles)}")
    bent = [not_negative(r, "radii") for r in radii]
    tangents = [r * math.tan(a / 2.0) for r, a in zip(bent, angles, strict=True)]
    legs = [math.dist(a, b) for a, b in itertools.pairwise(line)]
    taken = [0.0, *tangents, 0.0]
    for n, leg in enumerate(legs):
        if taken[n] + taken[n + 1] > leg + FIT_M:
            raise Refused("radii", f"bends do not fit on leg {n + 1}")
    total = math.fsum(legs)
    arcs = math.fsum(r * a for r, a in zip(bent, angles, strict=True))
    return Length(total - 2.0 * math.fsum(tangents) + arcs, total, tuple(angles), tuple(tangents))


@rule(
    "clearance.largest_equal_radius",
    title="The widest bend that fits everywhere",
    purpose="Which radius, the same at every corner, still fits on every leg?",
    source=GEOMETRY,
    validity="One radius for all corners.",
    caution=CAUTION,
)
def largest_equal_radius(
    pts: Points,
) -> Annotated[float | None, "Null: straight.", Named("value"), Unit("m")]:
    """The least, over the legs, of leg / (tangents of a radius of one at both its ends)."""
    line = corners(pts)
    taken = [0.0, *(math.tan(a / 2.0) for a in turning(line)), 0.0]
    legs = [math.dist(a, b) for a, b in itertools.pairwise(line)]
    fits = [
        leg / (taken[n] + taken[n + 1])
        for n, leg in enumerate(legs)
        if taken[n] + taken[n + 1] > 0.0
    ]
    return min(fits, default=None)


@rule(
    "clearance.traced_radius",
    title="The tightest bend of a traced run",
    purpose="How tightly does a run bend that was traced by many points?",
    source="Circle through three successive points.",
    validity="Noise of the points makes it smaller than it is: take points about ten times their"
    " uncertainty apart.",
    caution=CAUTION,
)
def traced_radius(
    pts: Points,
) -> Annotated[float | None, "Null: straight.", Named("value"), Unit("m")]:
    """Least radius of the circles through three successive points, m."""
    line = corners(pts)
    turning(line)
    found = []
    for a, b, c in zip(line, line[1:], line[2:], strict=False):
        twice = float(size(cross(minus(b, a), minus(c, a))))
        sides = math.dist(a, b) * math.dist(b, c) * math.dist(a, c)
        if twice > 1e-12 * math.dist(a, b) * math.dist(a, c):
            found.append(sides / (2.0 * twice))
    return min(found, default=None)


@dataclass(frozen=True)
class Spans:
    """A run between what holds it, m."""

    length: Annotated[float, "Of the run along its corners.", Unit("m")]
    spans: Annotated[tuple[float, ...], "From end to support to end."]
    over: Annotated[tuple[int, ...], "Which are longer than the limit, from 0."]
    least_supports: Annotated[int, "With fewer, some span must be too long."]


@rule(
    "clearance.spans",
    title="How far a run is left alone",
    purpose="Which stretches between supports are longer than allowed?",
    source="Arithmetic; the limit is its maker's or yours.",
    validity="Both ends count as held.",
    caution=CAUTION,
)
def spans(
    pts: Points,
    supports_s: Annotated[Sequence[float], "Distances along the corners, m."],
    limit: Annotated[float, "Longest span allowed.", Unit("m")],
) -> Spans:
    """Spans in order. Refuses a support beyond the run (`supports_s`)."""
    line = corners(pts)
    turning(line)
    total = distances(line)[-1]
    at = sorted(finite(s, "supports_s") for s in supports_s)
    if any(not -SPAN_M <= s <= total + SPAN_M for s in at):
        raise Refused("supports_s", f"is beyond the run, which is {total:.6g} m long")
    most = positive(limit, "limit")
    found = [b - a for a, b in itertools.pairwise([0.0, *at, total])]
    over = tuple(n for n, s in enumerate(found) if s > most + SPAN_M)
    least = max(0, math.ceil(total / most - SPAN_M) - 1)
    return Spans(total, tuple(found), over, least)
