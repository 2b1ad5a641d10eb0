"""Checks along a cable's route: pulleys, fairleads, what moves near what, order, guards.

`cables.pulley_check`, `cables.fairlead_check`, `cables.travel_gap`, `cables.pair_gap`,
`cables.order_check`, `cables.guard_check`. Directions are those of the cable in its running
direction. Sources: 14 CFR 23.689(b), (c); AC 43.13-1B ch. 7.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass

from core.basis.refused import Refused, finite, not_negative, positive
from core.basis.verdicts import Verdict, judge
from core.cables.path import Vec, cross, dot, size, unit

FAIRLEAD_MOST = math.radians(3.0)
CLEAR_OF_FAIRLEAD_M = 0.0508


def bend(d_in: Vec, d_out: Vec) -> float:
    """Angle between two unit directions, rad."""
    return math.atan2(float(size(cross(d_in, d_out))), dot(d_in, d_out))


@dataclass(frozen=True)
class Groove:
    """A pulley as measured: groove radius, flange radius, rim width, m; limits for it."""

    groove_radius_m: float
    flange_radius_m: float | None = None
    rim_width_m: float | None = None
    misalignment_limit_rad: float | None = None
    ratio_min: float | None = None


@dataclass(frozen=True)
class PulleyCheck:
    """Wrap and misalignment, rad, ratio of diameters; verdicts or `not judged`."""

    wrap_rad: float
    misalignment_rad: float
    ratio: float
    rub_angle_rad: float | None
    alignment: str
    diameter: str


def pulley_check(
    d_in: Sequence[float],
    d_out: Sequence[float],
    axis: Sequence[float],
    cable_diameter_m: float,
    groove: Groove,
    u_angle_rad: float = 0.0,
) -> PulleyCheck:
    """How a cable runs over a pulley, and whether it can rub the flange.

    Misalignment limit and least ratio are the user's: none are shipped. Refuses a flange
    below the cable's centre, a rim not wider than the cable, and one of the pair alone.
    """
    into, out, n = unit(d_in, "d_in"), unit(d_out, "d_out"), unit(axis, "axis")
    radius = positive(groove.groove_radius_m, "groove_radius_m")
    d = positive(cable_diameter_m, "cable_diameter_m")
    U = 2.0 * not_negative(u_angle_rad, "u_angle_rad")
    off = max(abs(math.asin(max(-1.0, min(1.0, dot(v, n))))) for v in (into, out))
    rub = _rub(groove, radius + d / 2.0, d)
    limits = [x for x in (groove.misalignment_limit_rad, rub) if x is not None]
    ratio = 2.0 * radius / d
    least = groove.ratio_min
    return PulleyCheck(
        bend(into, out),
        off,
        ratio,
        rub,
        judge(off, U, None, min(limits)).value if limits else "not judged",
        "not judged" if least is None else ("in" if ratio >= least - 1e-9 else "out"),
    )


def _rub(g: Groove, centre_line: float, d: float) -> float | None:
    if g.flange_radius_m is None and g.rim_width_m is None:
        return None
    if g.flange_radius_m is None:
        raise Refused("flange_radius_m", "is needed with the rim width")
    if g.rim_width_m is None:
        raise Refused("rim_width_m", "is needed with the flange radius")
    if positive(g.flange_radius_m, "flange_radius_m") <= centre_line:
        raise Refused("flange_radius_m", "the flange must be higher than the cable's centre")
    if positive(g.rim_width_m, "rim_width_m") <= d:
        raise Refused("rim_width_m", "the rim must be wider than the cable")
    reach = math.sqrt(g.flange_radius_m**2 - centre_line**2)
    return math.atan((g.rim_width_m - d) / 2.0 / reach)


@dataclass(frozen=True)
class Fairlead:
    """Deflection of the cable at a fairlead, rad, and its verdict."""

    deflection_rad: float
    verdict: Verdict


def fairlead_check(
    d_in: Sequence[float],
    d_out: Sequence[float],
    u_angle_rad: float = 0.0,
    limit_rad: float = FAIRLEAD_MOST,
) -> Fairlead:
    """A fairlead may bend the cable by 3° at most (14 CFR 23.689(c), AC 43.13-1B).

    Judge at every position of the travel.
    """
    bent = bend(unit(d_in, "d_in"), unit(d_out, "d_out"))
    U = 2.0 * not_negative(u_angle_rad, "u_angle_rad")
    return Fairlead(bent, judge(bent, U, None, positive(limit_rad, "limit_rad")))


@dataclass(frozen=True)
class Gap:
    """The smallest gap, m; whether it fouls; which end of the travel; verdict."""

    gap_m: float
    fouls: bool
    at_high: bool
    verdict: Verdict


def travel_gap(
    item: Sequence[float],
    obstacle: Sequence[float],
    travel: Sequence[float],
    required_m: float = CLEAR_OF_FAIRLEAD_M,
    u_m: float = 0.0,
) -> Gap:
    """How near a moving fitting comes to a fixed thing; stations along the route, m.

    2 in is a customary default: confirm with the maker. Refuses an overlap at neutral, travel
    that does not include 0, and intervals the wrong way round.
    """
    a, b = _interval(item, "item")
    c, d = _interval(obstacle, "obstacle")
    low, high = _interval(travel, "travel")
    if low > 0 or high < 0:
        raise Refused("travel", "must include 0, the neutral position")
    not_negative(required_m, "required_m")
    before = b <= c
    if not before and a < d:
        raise Refused("item", "overlaps the obstacle at neutral: check the positions")
    gap = c - (b + high) if before else (a + low) - d
    U = 2.0 * not_negative(u_m, "u_m")
    return Gap(gap, gap < 0, before, judge(gap, U, required_m, None))


def _interval(pair: Sequence[float], field: str) -> tuple[float, float]:
    if not isinstance(pair, (list, tuple)) or len(pair) != 2:
        raise Refused(field, "must be two stations")
    low, high = finite(pair[0], field), finite(pair[1], field)
    if high < low:
        raise Refused(field, "is the wrong way round")
    return low, high


@dataclass(frozen=True)
class PairGap:
    """Gap of two moving items, m (negative: they hit), and its verdict."""

    gap_m: float
    verdict: Verdict


def pair_gap(
    item_A: Sequence[float],
    item_B: Sequence[float],
    relative_travel: Sequence[float],
    lateral_m: float,
    radius_A_m: float,
    radius_B_m: float,
    required_m: float,
    u_m: float = 0.0,
) -> PairGap:
    """Two fittings on neighbouring cables; relative travel is that of B against A, m."""
    a1, a2 = _interval(item_A, "item_A")
    b1, b2 = _interval(item_B, "item_B")
    low, high = _interval(relative_travel, "relative_travel")
    not_negative(required_m, "required_m")
    radii = positive(radius_A_m, "radius_A_m") + positive(radius_B_m, "radius_B_m")
    beside = not_negative(lateral_m, "lateral_m") - radii
    meet = ((a1 + a2) - (b1 + b2)) / 2.0
    at = [low, high] + ([meet] if low < meet < high else [])
    along = min(max(b1 + r - a2, a1 - b2 - r) for r in at)
    both = beside > 0 and along > 0
    gap = math.hypot(beside, along) if both else max(beside, along)
    U = 2.0 * not_negative(u_m, "u_m")
    return PairGap(gap, judge(gap, U, required_m, None))


def order_check(banks: Sequence[Sequence[str]]) -> tuple[tuple[int, str, str], ...]:
    """Pairs of cables whose order changes from one bank of pulleys to the next.

    A crossing is a finding unless the drawing shows it. Refuses a name twice in a bank.
    """
    for i, bank in enumerate(banks):
        if len(set(bank)) != len(bank):
            raise Refused(f"banks[{i}]", "names a cable twice")
    found = []
    for i, (here, there) in enumerate(itertools.pairwise(banks)):
        place = {name: k for k, name in enumerate(there)}
        shared = [name for name in here if name in place]
        found += [(i, p, q) for p, q in itertools.combinations(shared, 2) if place[p] > place[q]]
    return tuple(found)


@dataclass(frozen=True)
class Guard:
    """Verdict on a guard, and why it is not in: `no guard`, `gap`, or None."""

    verdict: Verdict
    why: str | None


def guard_check(
    present: bool,
    cable_diameter_m: float,
    gap_m: float | None = None,
    limit_m: float | None = None,
    u_m: float = 0.0,
) -> Guard:
    """A guard must be there and closer than the cable is thick (14 CFR 23.689(b)).

    limit_m: the maker's, at most the cable's diameter, which is the default.
    """
    d = positive(cable_diameter_m, "cable_diameter_m")
    U = 2.0 * not_negative(u_m, "u_m")
    limit = d if limit_m is None else positive(limit_m, "limit_m")
    if limit > d:
        raise Refused("limit_m", "is more than the cable's diameter")
    if not present:
        return Guard(Verdict.OUT, "no guard")
    if gap_m is None:
        raise Refused("gap_m", "is needed: measure between guard and pulley")
    if not_negative(gap_m, "gap_m") >= d:
        return Guard(Verdict.OUT, "gap")
    verdict = judge(gap_m, U, None, limit)
    return Guard(verdict, None if verdict is Verdict.IN else "gap")
