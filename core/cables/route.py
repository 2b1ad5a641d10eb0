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
from typing import Annotated

from core.basis.forms import Named, Unit
from core.basis.refused import Refused, finite, not_negative, positive
from core.basis.rules import rule
from core.basis.vectors import Vec, cross, dot, size, unit
from core.basis.verdicts import Verdict, judge
from core.cables.words import CAUTION, RUB

FAIRLEAD_MOST = math.radians(3.0)
CLEAR_OF_FAIRLEAD_M = 0.0508


def bend(d_in: Vec, d_out: Vec) -> float:
    """Angle between two unit directions, rad."""
    return math.atan2(float(size(cross(d_in, d_out))), dot(d_in, d_out))


@dataclass(frozen=True)
class Groove:
    """A pulley as measured: groove radius, flange radius, rim width, m; limits for it."""

    groove_radius_m: Annotated[float, "Bottom of the groove."]
    flange_radius_m: Annotated[float | None, "With rim_width_m: where the cable rubs."] = None
    rim_width_m: Annotated[float | None, "Between the flanges at the rim."] = None
    misalignment_limit_rad: Annotated[float | None, "None is shipped: enter the maker's."] = None
    ratio_min: Annotated[float | None, "None is shipped: enter the maker's."] = None


@dataclass(frozen=True)
class PulleyCheck:
    """Wrap and misalignment, rad, ratio of diameters; verdicts or `not judged`."""

    wrap_rad: Annotated[float, "Angle that the cable wraps."]
    misalignment_rad: Annotated[float, "Out of the pulley's plane."]
    ratio: Annotated[float, "Groove diameter over cable diameter."]
    rub_angle_rad: Annotated[float | None, "Where the cable touches the flange."]
    alignment: Annotated[str, "Verdict, or not judged."]
    diameter: Annotated[str, "Verdict, or not judged."]


@rule(
    "cables.pulley_check",
    title="Cable over a pulley",
    purpose="Wrap, misalignment against its limit and the flange, and ratio of diameters.",
    source=RUB,
    validity="Directions both in the running direction.",
    caution=CAUTION,
)
def pulley_check(
    d_in: Annotated[Sequence[float], "Running direction before."],
    d_out: Annotated[Sequence[float], "Running direction after."],
    axis: Annotated[Sequence[float], "Axis of the pulley."],
    cable_diameter_m: Annotated[float, "Diameter of the cable."],
    groove: Groove,
    u_angle_rad: Annotated[float, "Standard uncertainty of the directions."] = 0.0,
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

    deflection_rad: Annotated[float, "Bend of the cable there."]
    verdict: Annotated[Verdict, "In, out, too close or not measured."]


@rule(
    "cables.fairlead_check",
    title="Cable through a fairlead",
    purpose="A fairlead may bend the cable by 3° at most.",
    source="14 CFR 23.689(c), AC 43.13-1B ch. 7.",
    validity="Judge at every position of the travel.",
    caution=CAUTION,
)
def fairlead_check(
    d_in: Annotated[Sequence[float], "Running direction before."],
    d_out: Annotated[Sequence[float], "Running direction after."],
    u_angle_rad: Annotated[float, "Standard uncertainty of the directions."] = 0.0,
    limit_rad: Annotated[float, "Default 3°."] = FAIRLEAD_MOST,
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

    gap_m: Annotated[float, "The smallest gap."]
    fouls: Annotated[bool, "They meet."]
    at: Annotated[str, "End of the travel at which it is nearest: high or low."]
    verdict: Annotated[Verdict, "In, out, too close or not measured."]


@rule(
    "cables.travel_gap",
    title="A moving fitting near a fixed thing",
    purpose="How near a turnbuckle or terminal comes to a fairlead or pulley.",
    source="Customary default of 2 in; geometry.",
    validity="Stations along the route.",
    caution=CAUTION,
)
def travel_gap(
    item: Annotated[Sequence[float], "Stations along the route, at neutral.", Unit("m")],
    obstacle: Annotated[Sequence[float], "The same.", Unit("m")],
    travel: Annotated[Sequence[float], "Low and high, 0 included.", Unit("m")],
    required_m: Annotated[
        float, "Default 0.0508 (2 in): confirm with the maker."
    ] = CLEAR_OF_FAIRLEAD_M,
    u_m: Annotated[float, "Standard uncertainty."] = 0.0,
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
    return Gap(gap, gap < 0, "high" if before else "low", judge(gap, U, required_m, None))


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

    gap_m: Annotated[float, "The smallest gap."]
    verdict: Annotated[Verdict, "In, out, too close or not measured."]


@rule(
    "cables.pair_gap",
    title="Two moving fittings",
    purpose="How near two turnbuckles on neighbouring cables come.",
    source="Geometry.",
    validity="Parallel cables.",
    caution=CAUTION,
)
def pair_gap(
    item_A: Annotated[Sequence[float], "At neutral.", Unit("m")],
    item_B: Annotated[Sequence[float], "At neutral.", Unit("m")],
    relative_travel: Annotated[Sequence[float], "Of B against A.", Unit("m")],
    lateral_m: Annotated[float, "Between the two cables."],
    radius_A_m: Annotated[float, "Of the item on cable A."],
    radius_B_m: Annotated[float, "Of the item on cable B."],
    required_m: Annotated[float, "Least gap."],
    u_m: Annotated[float, "Standard uncertainty."] = 0.0,
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


@rule(
    "cables.order_check",
    title="Order of cables",
    purpose="Which cables cross between one bank of pulleys and the next.",
    source="The drawing; a crossing is a finding unless it shows it.",
    validity="Names the same in each bank.",
    caution=CAUTION,
)
def order_check(
    banks: Annotated[Sequence[Sequence[str]], "Names in order across each bank."],
) -> Annotated[tuple[tuple[int, str, str], ...], "[bank, cable, cable].", Named("crossings")]:
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

    verdict: Annotated[Verdict, "In, out, too close or not measured."]
    why: Annotated[str | None, "Why it is not in."]


@rule(
    "cables.guard_check",
    title="Guard at a pulley",
    purpose="Present, and closer than the cable is thick.",
    source=RUB,
    validity="Gap between guard and pulley.",
    caution=CAUTION,
)
def guard_check(
    present: Annotated[bool, "There is a guard."],
    cable_diameter_m: Annotated[float, "Diameter of the cable."],
    gap_m: Annotated[float | None, "The smallest gap."] = None,
    limit_m: Annotated[float | None, "Default: the diameter."] = None,
    u_m: Annotated[float, "Standard uncertainty."] = 0.0,
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
