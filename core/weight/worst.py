"""The worst loading that can be flown (`weight.worst_cases`).

Least and greatest moment over mass come from `reach`; the margins against the envelope have their
extremes at corners of either, or at one point between them: the answer is exact, for every
combination of loads and every level in every tank.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import Annotated

from core.basis.forms import ABSENT
from core.basis.refused import Refused, finite, not_negative, positive
from core.basis.verdicts import Verdict, worst
from core.weight.envelope import Envelope, Line, Outline, outline
from core.weight.reach import Reach, between, corners
from core.weight.words import GUM, SLACK, STATICS, rule


@dataclass(frozen=True)
class Empty:
    """The empty aircraft."""

    mass_kg: Annotated[float, "Empty mass."]
    x_m: Annotated[float, "Its arm."]
    y_m: Annotated[float, "Its lateral arm."] = 0.0
    U_mass_kg: Annotated[float | None, "Expanded uncertainty of the mass."] = None
    U_x_m: Annotated[float | None, "Of the arm."] = None


@dataclass(frozen=True)
class Station:
    """A seat, a locker or a tank: what it may hold, and where."""

    name: Annotated[str, "Which."]
    max_kg: Annotated[float, "At most; of a tank its usable fuel at the coldest."]
    x_m: Annotated[float | None, "Its arm."] = None
    y_m: Annotated[float, "Beside the middle."] = 0.0
    min_kg: Annotated[float, "At least."] = 0.0
    x_range_m: Annotated[
        tuple[float, float] | None, "Of a tank whose arm varies: least and greatest."
    ] = None
    u_mass_kg: Annotated[float, "Standard uncertainty of its load."] = 0.0
    u_x_m: Annotated[float, "Of its arm."] = 0.0


@dataclass(frozen=True)
class Group:
    """Stations that have a limit together."""

    names: Annotated[tuple[str, ...], "Which."]
    max_kg: Annotated[float, "Together at most."]
    name: Annotated[str, "What the limit is called."] = ""


@dataclass(frozen=True)
class Extreme:
    """A loading that reaches farthest."""

    mass_kg: Annotated[float, "Of the aircraft."]
    loads: Annotated[dict[str, float], "Which loading, kg."]
    x_m: Annotated[float | None, "Its arm.", ABSENT] = None
    y_m: Annotated[float | None, "Its lateral arm.", ABSENT] = None


@dataclass(frozen=True)
class WorstMargin:
    """The loading that comes nearest to a limit, or farthest beyond it."""

    margin_m: Annotated[float, "To the limit; negative: beyond it."]
    mass_kg: Annotated[float, "Of the aircraft."]
    x_m: Annotated[float, "Its arm."]
    U_x_m: Annotated[float, "Expanded uncertainty of the arm there."]
    verdict: Annotated[Verdict, "Against its limit."]
    loads: Annotated[dict[str, float], "Which loading, kg."]


@dataclass(frozen=True)
class Worst:
    """Of every loading that is possible."""

    min_mass_kg: Annotated[float, "The lightest."]
    max_mass_kg: Annotated[float, "The heaviest."]
    all_full_mass_kg: Annotated[float, "With everything full."]
    over_limit_possible: Annotated[bool, "That exceeds the gross mass: the pilot must reckon."]
    below_envelope_possible: Annotated[bool, "The lightest is below the envelope."]
    most_forward: Annotated[Extreme, "Least arm."]
    most_aft: Annotated[Extreme, "Greatest arm."]
    most_left: Annotated[Extreme, "Least lateral arm."]
    most_right: Annotated[Extreme, "Greatest lateral arm."]
    forward_worst: Annotated[WorstMargin | None, "Against the forward limit."]
    aft_worst: Annotated[WorstMargin | None, "Against the aft limit."]
    bounded: Annotated[bool, "A tank's arm varies: the margins are bounds."]
    verdict: Annotated[Verdict, "Of the aircraft."]


@dataclass(frozen=True)
class Loads:
    """What may be loaded, side by side."""

    names: tuple[str, ...]
    least: tuple[float, ...]
    most: tuple[float, ...]
    groups: tuple[tuple[tuple[int, ...], float], ...]

    def corners(self, arms: Sequence[float], cap: float) -> list[Reach]:
        """Of the least moment over mass, up to a mass of all loads."""
        found = corners(arms, self.least, self.most, self.groups)
        return self._up_to(found, cap)

    def opposite(self, arms: Sequence[float], cap: float) -> list[Reach]:
        """Of the greatest moment over mass; of equal arms the last comes first."""
        count = len(arms)
        turned = [(tuple(count - 1 - i for i in names), limit) for names, limit in self.groups]
        found = corners([-a for a in arms[::-1]], self.least[::-1], self.most[::-1], turned)
        whole = [Reach(r.mass, -r.moment, r.loads[::-1]) for r in found]
        return self._up_to(whole, cap)

    def _up_to(self, found: list[Reach], cap: float) -> list[Reach]:
        below = [r for r in found if r.mass <= cap + SLACK * max(1.0, cap)]
        if len(below) < len(found):
            a, b = found[len(below) - 1], found[len(below)]
            below.append(between(a, b, cap))
        return below


@rule(
    "weight.worst_cases",
    title="The worst loading that can be flown",
    purpose="Of all loadings that are allowed: which is most forward, most aft, heaviest, most to a"
    " side, and does any leave the envelope?",
    source=f"Linear programming over all loads. {STATICS} {GUM}",
    validity="Every tank at any level bounds every order of burning. The uncertainty is taken at"
    " the worst loading; where a heavier one sits elsewhere enter a bound. Tanks that can only be"
    " equal are entered as one.",
)
def worst_cases(
    empty: Annotated[Empty, "As weighed, with what changed since."],
    envelope: Annotated[Envelope, "The maker's."],
    max_mass_kg: Annotated[float, "Gross mass."],
    stations: Annotated[tuple[Station, ...], "Seats and lockers."] = (),
    tanks: Annotated[tuple[Station, ...], "Each at any level."] = (),
    groups: Annotated[tuple[Group, ...], "Limits of several together."] = (),
    U_x_m: Annotated[float | None, "Of the loaded aircraft; left out: propagated."] = None,
) -> Worst:
    """kg, m. Refuses limits that are negative or the wrong way round, a name twice, a group of
    unknown names, a gross mass below the lightest loading, and limits that no loading keeps."""
    o = outline(envelope)
    every, loads = (*stations, *tanks), _loads(stations, tanks, groups)
    m0, x0 = positive(empty.mass_kg, "empty.mass_kg"), finite(empty.x_m, "empty.x_m")
    y0, gross = finite(empty.y_m, "empty.y_m"), positive(max_mass_kg, "max_mass_kg")
    u_of = _uncertainty(empty, every, U_x_m)
    lightest = m0 + math.fsum(loads.least)
    if gross < lightest - SLACK * lightest:
        raise Refused("max_mass_kg", "below the empty mass plus the least loads")
    room = gross - m0
    low = [s.x_range_m[0] if s.x_range_m else s.x_m or 0.0 for s in every]
    high = [s.x_range_m[1] if s.x_range_m else s.x_m or 0.0 for s in every]
    side = [s.y_m for s in every]

    def whole(found: list[Reach], arm0: float) -> list[Reach]:
        return [Reach(m0 + r.mass, m0 * arm0 + r.moment, r.loads) for r in found]

    least, most = whole(loads.corners(low, room), x0), whole(loads.opposite(high, room), x0)
    left, right = whole(loads.corners(side, room), y0), whole(loads.opposite(side, room), y0)
    forward = _worst_margin(o, least, 1.0, loads.names, u_of(low))
    aft = _worst_margin(o, most, -1.0, loads.names, u_of(high))
    heaviest = least[-1].mass
    full = m0 + math.fsum(loads.most)
    return Worst(
        min_mass_kg=lightest,
        max_mass_kg=heaviest,
        all_full_mass_kg=full,
        over_limit_possible=full > gross * (1.0 + SLACK),
        below_envelope_possible=lightest < o.lowest * (1.0 - SLACK),
        most_forward=_extreme(least, 1.0, loads.names, "x"),
        most_aft=_extreme(most, -1.0, loads.names, "x"),
        most_left=_extreme(left, 1.0, loads.names, "y"),
        most_right=_extreme(right, -1.0, loads.names, "y"),
        forward_worst=forward,
        aft_worst=aft,
        bounded=any(s.x_range_m for s in every),
        verdict=_verdict(o, lightest, heaviest, forward, aft),
    )


def hull(
    mass_kg: float,
    x_m: float,
    max_mass_kg: float,
    stations: Sequence[Station],
    tanks: Sequence[Station],
    groups: Sequence[Group],
    sign: float,
) -> list[Reach]:
    """Least (sign 1) or greatest (-1) moment of the whole aircraft over its mass, corner by
    corner."""
    every, loads = (*stations, *tanks), _loads(stations, tanks, groups)
    end, walk = (0, loads.corners) if sign > 0.0 else (1, loads.opposite)
    arms = [s.x_range_m[end] if s.x_range_m else s.x_m or 0.0 for s in every]
    found = walk(arms, max_mass_kg - mass_kg)
    return [Reach(mass_kg + r.mass, mass_kg * x_m + r.moment, r.loads) for r in found]


def _loads(stations: Sequence[Station], tanks: Sequence[Station], groups: Sequence[Group]) -> Loads:
    names: list[str] = []
    for field, rows in (("stations", stations), ("tanks", tanks)):
        for n, s in enumerate(rows):
            at = f"{field}.{n}"
            if s.name in names:
                raise Refused(f"{at}.name", "is there twice")
            names.append(s.name)
            if not_negative(s.max_kg, f"{at}.max_kg") < not_negative(s.min_kg, f"{at}.min_kg"):
                raise Refused(f"{at}.max_kg", "is below the least load")
            _arms(s, at)
            not_negative(s.u_mass_kg, f"{at}.u_mass_kg")
            not_negative(s.u_x_m, f"{at}.u_x_m")
    every = (*stations, *tanks)
    kept = []
    for n, g in enumerate(groups):
        unknown = [name for name in g.names if name not in names]
        if unknown:
            raise Refused(f"groups.{n}.names", f"{unknown[0]} is no station and no tank")
        limit = not_negative(g.max_kg, f"groups.{n}.max_kg")
        members = tuple(sorted({names.index(name) for name in g.names}))
        if math.fsum(every[i].min_kg for i in members) > limit * (1.0 + SLACK):
            raise Refused("groups", "no loading keeps all limits")
        kept.append((members, limit))
    return Loads(
        tuple(names), tuple(s.min_kg for s in every), tuple(s.max_kg for s in every), tuple(kept)
    )


def _arms(s: Station, at: str) -> None:
    finite(s.y_m, f"{at}.y_m")
    if s.x_range_m is None:
        if s.x_m is None:
            raise Refused(f"{at}.x_m", "is needed")
        finite(s.x_m, f"{at}.x_m")
    elif s.x_range_m[0] > s.x_range_m[1]:
        raise Refused(f"{at}.x_range_m", "is the wrong way round")


def _uncertainty(
    empty: Empty, every: Sequence[Station], bound: float | None
) -> Callable[[Sequence[float]], Callable[[Reach], float]]:
    """U of the arm of a loading, by the arms of the loads."""
    if bound is not None:
        fixed = not_negative(bound, "U_x_m")
        return lambda arms: lambda r: fixed
    if empty.U_mass_kg is None or empty.U_x_m is None:
        raise Refused("U_x_m", "is needed, or both uncertainties of the empty aircraft")
    um = not_negative(empty.U_mass_kg, "empty.U_mass_kg") / 2.0
    ux = not_negative(empty.U_x_m, "empty.U_x_m") / 2.0

    def of(arms: Sequence[float]) -> Callable[[Reach], float]:
        def u(r: Reach) -> float:
            x = r.moment / r.mass
            parts = [(empty.x_m - x) / r.mass * um, empty.mass_kg / r.mass * ux]
            for s, arm, load in zip(every, arms, r.loads, strict=True):
                if load > 0.0:
                    parts += [(arm - x) / r.mass * s.u_mass_kg, load / r.mass * s.u_x_m]
            return 2.0 * math.hypot(*parts)

        return u

    return of


def _extreme(track: Sequence[Reach], sign: float, names: Sequence[str], axis: str) -> Extreme:
    """The corner of least (or greatest) arm; of equal ones the lightest."""
    best = track[0]
    for r in track[1:]:
        if sign * r.moment / r.mass < sign * best.moment / best.mass - 1e-12:
            best = r
    arm = best.moment / best.mass
    loads = dict(zip(names, best.loads, strict=True))
    return Extreme(best.mass, loads, **{"x_m" if axis == "x" else "y_m": arm})


def _worst_margin(
    o: Outline,
    track: Sequence[Reach],
    sign: float,
    names: Sequence[str],
    u_of: Callable[[Reach], float],
) -> WorstMargin | None:
    """Least of arm less forward limit (sign 1), or of aft limit less arm (sign -1)."""
    best: tuple[float, Reach] | None = None
    for r, line in _candidates(o, track, sign):
        margin = sign * (r.moment / r.mass - o.arm(line, r.mass))
        closer = best is None or margin < best[0] - 1e-12
        same = best is not None and abs(margin - best[0]) <= 1e-12 and r.mass < best[1].mass
        if closer or same:
            best = (margin, r)
    if best is None:
        return None
    margin, r = best
    loads = dict(zip(names, r.loads, strict=True))
    x, u = r.moment / r.mass, u_of(r)
    return WorstMargin(margin, r.mass, x, u, _sided(margin, x, u), loads)


def _sided(margin: float, x: float, u: float) -> Verdict:
    """Of one limit."""
    slack = SLACK * max(1.0, abs(x))
    if margin < -u - slack:
        return Verdict.OUT
    return Verdict.IN if margin >= u - slack else Verdict.TOO_CLOSE


def _candidates(o: Outline, track: Sequence[Reach], sign: float) -> Iterable[tuple[Reach, Line]]:
    """Where the margin can be least: ends and corners of each piece, and where its slope is 0."""
    pieces = list(pairwise(track)) if len(track) > 1 else [(track[0], track[0])]
    for a, b in pieces:
        for p in o.pieces:
            low, high = max(a.mass, p.low), min(b.mass, p.high)
            if low > high + SLACK * max(1.0, high):
                continue
            line = p.forward if sign > 0.0 else p.aft
            for mass in {low, min(max(low, high), high)}:
                yield between(a, b, mass), line
            if not o.moment and b.mass > a.mass:
                slope = (b.moment - a.moment) / (b.mass - a.mass)
                rest = a.moment - slope * a.mass
                # rest/M + slope - p - q M has no slope where M² = -rest/q.
                square = -rest / line.q if line.q else -1.0
                if square > 0.0 and low < math.sqrt(square) < high:
                    yield between(a, b, math.sqrt(square)), line


def _verdict(
    o: Outline,
    lightest: float,
    heaviest: float,
    forward: WorstMargin | None,
    aft: WorstMargin | None,
) -> Verdict:
    light = lightest < o.lowest - SLACK * o.lowest
    heavy = heaviest > o.highest + SLACK * o.highest
    if forward is None or aft is None or light or heavy:
        return Verdict.OUT
    return worst((forward.verdict, aft.verdict))
