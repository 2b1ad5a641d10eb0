"""The envelope of weight and balance and a point in it (`weight.envelope_check`).

The outline is a polygon either of arm and mass, or of moment and mass: an edge that is straight in
one is curved in the other. It is cut at its corner masses into pieces; on each, the forward and
the aft edge are straight in the outline's own plane: p + q M.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from functools import cached_property
from itertools import pairwise
from typing import Annotated, Literal

from core.basis.forms import Unit
from core.basis.refused import Refused, finite, not_negative, positive
from core.basis.verdicts import Verdict
from core.weight.words import SLACK, rule

Corner = tuple[float, float]


@dataclass(frozen=True)
class Envelope:
    """As the maker's chart is drawn."""

    plane: Annotated[Literal["arm", "moment"], "In which its edges are straight."]
    points: Annotated[
        tuple[tuple[float, float], ...],
        "Corners in order: arm m or moment kg·m, mass kg.",
        Unit(""),
    ]


@dataclass(frozen=True)
class Line:
    """p + q M, in the outline's own plane."""

    p: float
    q: float

    def at(self, mass: float) -> float:
        """Its value."""
        return self.p + self.q * mass


@dataclass(frozen=True)
class Piece:
    """Between two neighbouring corner masses: the forward and the aft edge."""

    low: float
    high: float
    forward: Line
    aft: Line


@dataclass(frozen=True)
class Outline:
    """An envelope whose pieces are known. moment: its edges are straight in the moment."""

    moment: bool
    pieces: tuple[Piece, ...]

    @property
    def lowest(self) -> float:
        """Least mass, kg."""
        return self.pieces[0].low

    @property
    def highest(self) -> float:
        """Greatest mass, kg."""
        return self.pieces[-1].high

    @cached_property
    def masses(self) -> tuple[float, ...]:
        """All corner masses, rising."""
        return (self.lowest, *(p.high for p in self.pieces))

    def arm(self, line: Line, mass: float) -> float:
        """The arm at a mass on a line, m."""
        return line.at(mass) / mass if self.moment else line.at(mass)

    def plane_of(self, x: float) -> Line:
        """An arm as a line in the outline's own plane."""
        return Line(0.0, x) if self.moment else Line(x, 0.0)

    def at(self, mass: float) -> list[Piece]:
        """The pieces that a mass belongs to: at a corner mass two."""
        slack = SLACK * max(1.0, abs(mass))
        return [p for p in self.pieces if p.low - slack <= mass <= p.high + slack]

    def limits(self, mass: float) -> tuple[float, float] | None:
        """Forward and aft limit, m; at a step the wider range. None outside the mass range."""
        here = self.at(mass)
        if not here:
            return None
        m = min(max(mass, self.lowest), self.highest)
        return (
            min(self.arm(p.forward, m) for p in here),
            max(self.arm(p.aft, m) for p in here),
        )

    def moved(self, by: float) -> Outline:
        """With its forward limit later and its aft limit sooner by an arm, m; the masses stay."""
        step = self.plane_of(by)

        def shifted(line: Line, sign: float) -> Line:
            return Line(line.p + sign * step.p, line.q + sign * step.q)

        return Outline(
            self.moment,
            tuple(
                Piece(p.low, p.high, shifted(p.forward, 1.0), shifted(p.aft, -1.0))
                for p in self.pieces
            ),
        )

    def holds(self, mass: float, x: float) -> bool:
        """Whether a point is inside or on the outline."""
        found = self.limits(mass)
        slack = SLACK * max(1.0, abs(x))
        return found is not None and found[0] - slack <= x <= found[1] + slack


def outline(e: Envelope, field: str = "envelope.points") -> Outline:
    """The pieces of an envelope. Refuses an outline that is none, by the field."""
    points = [(finite(a, field), finite(m, field)) for a, m in e.points]
    if len(points) > 1 and points[0] == points[-1]:
        points.pop()
    points = [p for n, p in enumerate(points) if p != points[n - 1] or len(points) == 1]
    if len(points) < 3:
        raise Refused(field, "needs at least three corners")
    for _, mass in points:
        positive(mass, field)
    edges = list(pairwise([*points, points[0]]))
    _refuse_crossing(edges, field)
    if abs(_area(edges)) <= SLACK * _extent(points):
        raise Refused(field, "has no area")
    masses = sorted({m for _, m in points})
    pieces = [_piece(edges, low, high, field) for low, high in pairwise(masses)]
    return Outline(e.plane == "moment", tuple(pieces))


def _piece(edges: Sequence[tuple[Corner, Corner]], low: float, high: float, field: str) -> Piece:
    """The two edges that pass between two corner masses."""
    middle = (low + high) / 2.0
    found = []
    for (xa, ma), (xb, mb) in edges:
        if min(ma, mb) < middle < max(ma, mb):
            q = (xb - xa) / (mb - ma)
            found.append(Line(xa - q * ma, q))
    if len(found) != 2:
        raise Refused(field, f"has two separate ranges at {middle:g} kg")
    forward, aft = sorted(found, key=lambda line: line.at(middle))
    return Piece(low, high, forward, aft)


def _refuse_crossing(edges: Sequence[tuple[Corner, Corner]], field: str) -> None:
    count = len(edges)
    for i in range(count):
        for j in range(i + 1, count):
            (a, b), (c, d) = edges[i], edges[j]
            beside = j == i + 1 or (i == 0 and j == count - 1)
            if beside:
                shared, one, two = (b, a, d) if j == i + 1 else (a, b, c)
                crossing = _turn(one, shared, two) == 0.0 and _same_way(shared, one, two)
            else:
                crossing = _meet(a, b, c, d)
            if crossing:
                raise Refused(field, "the outline crosses itself")


def _turn(a: Corner, b: Corner, c: Corner) -> float:
    return (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0])


def _same_way(at: Corner, a: Corner, b: Corner) -> bool:
    """Whether both lie on the same side of a corner on one line: a spike."""
    return (a[0] - at[0]) * (b[0] - at[0]) + (a[1] - at[1]) * (b[1] - at[1]) > 0.0


def _meet(a: Corner, b: Corner, c: Corner, d: Corner) -> bool:
    """Whether two segments have a point in common."""
    turns = _turn(a, b, c), _turn(a, b, d), _turn(c, d, a), _turn(c, d, b)
    if turns[0] * turns[1] < 0.0 and turns[2] * turns[3] < 0.0:
        return True
    on = ((turns[0], a, b, c), (turns[1], a, b, d), (turns[2], c, d, a), (turns[3], c, d, b))
    return any(t == 0.0 and _between(p, q, r) for t, p, q, r in on)


def _between(a: Corner, b: Corner, c: Corner) -> bool:
    return all(min(a[k], b[k]) <= c[k] <= max(a[k], b[k]) for k in (0, 1))


def _area(edges: Iterable[tuple[Corner, Corner]]) -> float:
    return math.fsum(a[0] * b[1] - b[0] * a[1] for a, b in edges) / 2.0


def _extent(points: Sequence[Corner]) -> float:
    wide, high = ([p[k] for p in points] for k in (0, 1))
    return max(max(abs(w) for w in wide), 1.0) * max(high)


@dataclass(frozen=True)
class Placed:
    """A point against the envelope. Negative margins lie outside."""

    verdict: Annotated[Verdict, "By the rectangle of its uncertainties."]
    inside: Annotated[bool, "Of the point alone."]
    forward_limit_m: Annotated[float | None, "At this mass; null outside the masses."]
    aft_limit_m: Annotated[float | None, "At this mass."]
    forward_margin_m: Annotated[float | None, "Arm less forward limit."]
    aft_margin_m: Annotated[float | None, "Aft limit less arm."]
    heavy_margin_kg: Annotated[float | None, "Up to the outline; null beside it."]
    light_margin_kg: Annotated[float | None, "Down to the outline; null beside it."]


@rule(
    "weight.envelope_check",
    title="A point in the envelope",
    purpose="Is this weight at this arm inside the maker's envelope, and how far?",
    source="Plane geometry; the envelope is the maker's.",
    validity="Edges straight in arm or in moment, as the maker's chart is drawn: the two differ."
    " The rectangle of both uncertainties is wider than the 95 % ellipse.",
)
def envelope_check(
    envelope: Annotated[Envelope, "The maker's."],
    mass_kg: Annotated[float, "Of the aircraft."],
    x_m: Annotated[float, "Its arm."],
    U_mass_kg: Annotated[float, "Expanded uncertainty of the mass; 0 is a statement."],
    U_x_m: Annotated[float, "Of the arm; 0 is a statement."],
) -> Placed:
    """kg, m. Refuses an outline with under three corners, that crosses itself, has no area, a
    corner without mass, or two ranges at one mass."""
    return place(outline(envelope), mass_kg, x_m, U_mass_kg, U_x_m)


def place(o: Outline, mass_kg: float, x_m: float, U_mass_kg: float, U_x_m: float) -> Placed:
    """A point with its uncertainties against an outline."""
    m, x = positive(mass_kg, "mass_kg"), finite(x_m, "x_m")
    um, ux = not_negative(U_mass_kg, "U_mass_kg"), not_negative(U_x_m, "U_x_m")
    verdict = Verdict.TOO_CLOSE
    if _wholly_inside(o, m, x, um, ux):
        verdict = Verdict.IN
    elif not _touches(o, m, x, um, ux):
        verdict = Verdict.OUT
    limits = o.limits(m)
    heavy, light = _masses_at(o, x)
    return Placed(
        verdict,
        o.holds(m, x),
        limits[0] if limits else None,
        limits[1] if limits else None,
        x - limits[0] if limits else None,
        limits[1] - x if limits else None,
        None if heavy is None else heavy - m,
        None if light is None else m - light,
    )


def _wholly_inside(o: Outline, m: float, x: float, um: float, ux: float) -> bool:
    low, high = m - um, m + um
    slack = SLACK * max(1.0, abs(m))
    if low < o.lowest - slack or high > o.highest + slack:
        return False
    if um == 0.0:
        return o.holds(m, x - ux) and o.holds(m, x + ux)
    least, most = o.plane_of(x - ux), o.plane_of(x + ux)
    for p in o.pieces:
        a, b = max(p.low, low), min(p.high, high)
        # A piece that only touches the rectangle's edge counts as its neighbour does.
        if b - a <= slack:
            continue
        for at in (a, b):
            close = SLACK * max(1.0, abs(least.at(at)))
            if p.forward.at(at) > least.at(at) + close or most.at(at) > p.aft.at(at) + close:
                return False
    return True


def _touches(o: Outline, m: float, x: float, um: float, ux: float) -> bool:
    """Whether the rectangle and the outline have a point in common."""
    least, most = o.plane_of(x - ux), o.plane_of(x + ux)
    slack = SLACK * max(1.0, abs(m))
    for p in o.pieces:
        a, b = max(p.low, m - um), min(p.high, m + um)
        if b < a - slack:
            continue
        span = _where_not_above(p.forward, most, a, b)
        span = span and _where_not_above(least, p.aft, *span)
        if span:
            return True
    return False


def _where_not_above(one: Line, other: Line, a: float, b: float) -> tuple[float, float] | None:
    """The masses between a and b where one line is not above another."""
    p, q = other.p - one.p, other.q - one.q
    close = SLACK * max(1.0, abs(one.at(a)), abs(other.at(a)))
    at_a, at_b = p + q * a + close, p + q * b + close
    if at_a < 0.0 and at_b < 0.0:
        return None
    if at_a >= 0.0 and at_b >= 0.0:
        return a, b
    root = min(max(-p / q, a), b)
    return (root, b) if at_a < 0.0 else (a, root)


def _masses_at(o: Outline, x: float) -> tuple[float | None, float | None]:
    """Greatest and least mass of the outline at an arm, kg; None beside it."""
    line, found = o.plane_of(x), []
    for p in o.pieces:
        span = _where_not_above(p.forward, line, p.low, p.high)
        span = span and _where_not_above(line, p.aft, *span)
        found += list(span or ())
    return (max(found), min(found)) if found else (None, None)
