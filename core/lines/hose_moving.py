"""A hose whose end moves: which shape it takes at each position (`lines.pedal_positions`,
`lines.hose_moving`, `lines.hose_free_length`)."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

import numpy as np

from core.basis.by_name import rule
from core.basis.refused import Refused, finite, not_negative, positive
from core.basis.verdicts import Verdict
from core.lines.elastic import Array, peak, solve
from core.lines.hose import SLACK_MIN
from core.lines.tables import ROUNDING_M
from core.lines.words import ELASTICA, HOSE, PEDALS

Pair = tuple[float, float]
STEP_M, CLOSE_M, LONGEST_M = 0.01, 5e-5, 20.0
NO_CURVE = "no curve found: nearly taut, or the ends point the wrong way"


def pair(value: Sequence[float], field: str) -> Pair:
    """Two finite numbers in the hose's plane."""
    if not isinstance(value, (list, tuple)) or len(value) != 2:
        raise Refused(field, "must be two numbers in the hose's plane")
    return finite(value[0], field), finite(value[1], field)


@dataclass(frozen=True)
class End:
    """Where a hose's moving end is, m, and how the hose arrives there, rad, continuous."""

    point_m: Annotated[tuple[float, ...], "In the hose's plane."]
    angle_rad: Annotated[float, "Along the hose, counter-clockwise; a half turn is π."]


@dataclass(frozen=True)
class Positions:
    """Every position of a hose's end."""

    positions: Annotated[tuple[End, ...], "For each adjustment, each pedal angle."]


@rule(
    "lines.pedal_positions",
    title="Where a pedal takes the hose",
    purpose="Every position of the hose's end: each adjustment, each pedal angle.",
    source="Plane rotation about the pedal's pivot.",
    validity="Pedal and hose move in one plane.",
    caution=PEDALS,
)
def pedal_positions(
    pivot_m: Annotated[Sequence[float], "The pedal's pivot."],
    hose_end_m: Annotated[Sequence[float], "The hose's end with the pedal at rest."],
    hose_end_angle_rad: Annotated[float, "How the hose arrives there."],
    pedal_angles_rad: Annotated[Sequence[float], "Of the pedal's travel."],
    adjustments_m: Annotated[Sequence[Sequence[float]], "How far each setting moves the pivot."],
) -> Positions:
    """Positions of the end, adjustments outermost. Refuses none of either."""
    px, py = pair(pivot_m, "pivot_m")
    ex, ey = pair(hose_end_m, "hose_end_m")
    at = finite(hose_end_angle_rad, "hose_end_angle_rad")
    for name, given in (("pedal_angles_rad", pedal_angles_rad), ("adjustments_m", adjustments_m)):
        if not given:
            raise Refused(name, "needs at least one")
    found = []
    for adjustment in adjustments_m:
        dx, dy = pair(adjustment, "adjustments_m")
        for a in pedal_angles_rad:
            c, s = math.cos(finite(a, "pedal_angles_rad")), math.sin(a)
            x = px + dx + c * (ex - px) - s * (ey - py)
            y = py + dy + s * (ex - px) + c * (ey - py)
            found.append(End((x, y), at + a))
    return Positions(tuple(found))


@dataclass(frozen=True)
class Obstacle:
    """Something round that the hose must stay away from."""

    point_m: Annotated[Sequence[float], "Its centre in the hose's plane."]
    radius_m: Annotated[float, "Its radius."]


@dataclass(frozen=True)
class Held:
    """A hose at one position; lengths m."""

    chord_m: Annotated[float, "Between the flexible ends."]
    slack: Annotated[float, "Share of the flexible length beyond the chord."]
    radius_bound_m: Annotated[float | None, "No shape bends less than this; null: no turning."]
    min_radius_m: Annotated[float | None, "Tightest of its shape; null: too short."]
    finding: Annotated[
        str, "hose_too_short, bend_too_tight, too_little_slack, chafe or none; the first that is."
    ]
    clearance_m: Annotated[float | None, "To the nearest obstacle."] = None


@dataclass(frozen=True)
class Moving:
    """A hose through all its positions."""

    positions: Annotated[tuple[Held, ...], "In the order given."]
    tightest_radius_m: Annotated[float | None, "Of all positions."]
    verdict: Annotated[Verdict, "In only where every position is."]


@dataclass(frozen=True)
class Hose:
    """A hose as hung: fixed end, rigid fittings at both ends, length between their ends."""

    fixed: Pair
    angle: float
    length: float
    fitting: float

    @property
    def flexible(self) -> float:
        """Between the fittings."""
        return self.length - 2.0 * self.fitting

    def ends(self, positions: Sequence[End]) -> Array:
        """Each far flexible end seen from the near one along its tangent: [x, y, turning], m."""
        c, s = math.cos(self.angle), math.sin(self.angle)
        x0, y0 = self.fixed[0] + self.fitting * c, self.fixed[1] + self.fitting * s
        found = []
        for e in positions:
            x = e.point_m[0] - self.fitting * math.cos(e.angle_rad) - x0
            y = e.point_m[1] - self.fitting * math.sin(e.angle_rad) - y0
            found.append([c * x + s * y, -s * x + c * y, e.angle_rad - self.angle])
        return np.array(found)


def hang(fixed_m: Sequence[float], angle_rad: float, length_m: float, fitting_m: float) -> Hose:
    """A hose from plain numbers. Refuses fittings that are longer than it."""
    fixed, angle = pair(fixed_m, "fixed_point_m"), finite(angle_rad, "fixed_angle_rad")
    length, fitting = positive(length_m, "length_m"), not_negative(fitting_m, "end_fitting_m")
    if length - 2.0 * fitting <= ROUNDING_M:
        raise Refused("end_fitting_m", "both fittings are longer than the hose")
    return Hose(fixed, angle, length, fitting)


def ends_of(positions: Sequence[End]) -> list[End]:
    """The positions, checked. Refuses none."""
    if not positions:
        raise Refused("positions", "needs at least one position")
    return [End(pair(e.point_m, "point_m"), finite(e.angle_rad, "angle_rad")) for e in positions]


@dataclass(frozen=True)
class Hung:
    """One position solved: chord, turning, tightest radius (none: too short or no curve), and
    the flexible centreline in the hose's plane, m."""

    chord: float
    slack: float
    bound: float | None
    radius: float | None
    path: Array | None


def hung(hose: Hose, positions: Sequence[End]) -> list[Hung]:
    """Every position; a curve wherever the hose is long enough and one is found."""
    ends, long = hose.ends(positions), hose.flexible
    chords = np.hypot(ends[:, 0], ends[:, 1])
    reach = chords < long
    shapes = solve(ends[reach] / [long, long, 1.0])
    by = iter(shapes)
    c, s = math.cos(hose.angle), math.sin(hose.angle)
    begin = np.array(hose.fixed) + hose.fitting * np.array([c, s])
    found = []
    for (_x, _y, turning), chord, can in zip(ends, chords, reach, strict=True):
        shape = next(by) if can else None
        bound = long / abs(turning) if abs(turning) > 1e-12 else None
        radius = path = None
        if shape is not None:
            radius = long / shape.sharpest if shape.sharpest > 1e-9 else 1e9
            path = begin + long * (shape.nodes @ np.array([[c, s], [-s, c]]))
        found.append(Hung(float(chord), float((long - chord) / long), bound, radius, path))
    return found


@rule(
    "lines.hose_moving",
    title="A hose through its travel",
    purpose="Does the hose reach, bend and clear at every pedal position and adjustment?",
    source=ELASTICA,
    validity="No weight, pressure stiffening, set or twist; movement within about 10° of one"
    " plane. A hose has more than one resting shape: compare with what is seen, and measure the"
    " radius at the tightest position on the aircraft.",
    caution=PEDALS + " " + HOSE,
)
def hose_moving(
    fixed_point_m: Annotated[Sequence[float], "Where the fixed end is."],
    fixed_angle_rad: Annotated[float, "How the hose leaves it."],
    positions: Annotated[tuple[End, ...], "Of the moving end."],
    length_m: Annotated[float, "Of the hose with its fittings."],
    min_radius_m: Annotated[float, "The maker's least bend radius."],
    end_fitting_m: Annotated[float, "Rigid length of each end fitting."] = 0.0,
    obstacles: Annotated[tuple[Obstacle, ...], "What it must clear."] = (),
    hose_od_m: Annotated[float | None, "Outside diameter; needed with obstacles."] = None,
    min_clearance_m: Annotated[float, "Least clearance to an obstacle."] = 0.0,
    slack_min: Annotated[float, "Least slack, a share of the flexible length."] = SLACK_MIN,
) -> Moving:
    """Each position with its finding. Refuses fittings longer than the hose, and no curve."""
    hose = hang(fixed_point_m, fixed_angle_rad, length_m, end_fitting_m)
    least = positive(min_radius_m, "min_radius_m")
    slack_least = _share(slack_min)
    around = _obstacles(obstacles, hose_od_m)
    clear = not_negative(min_clearance_m, "min_clearance_m")
    at = ends_of(positions)
    found = []
    for end, h in zip(at, hung(hose, at), strict=True):
        short = h.slack <= 0.0
        if not short and h.radius is None:
            raise Refused("length_m", NO_CURVE)
        gap = None if h.path is None or not around else _clearance(hose, end, h.path, around)
        finding = "none"
        if short:
            finding = "hose_too_short"
        elif too_tight(h, least):
            finding = "bend_too_tight"
        elif h.slack < slack_least - 1e-9:
            finding = "too_little_slack"
        elif gap is not None and gap < clear - ROUNDING_M:
            finding = "chafe"
        found.append(Held(h.chord, h.slack, h.bound, h.radius, finding, gap))
    radii = [h.min_radius_m for h in found if h.min_radius_m is not None]
    good = all(h.finding == "none" for h in found)
    return Moving(tuple(found), min(radii, default=None), Verdict.IN if good else Verdict.OUT)


def too_tight(h: Hung, least: float) -> bool:
    """Whether a position bends more than the maker allows; no curve counts as too tight."""
    return h.radius is None or min(h.radius, h.bound or h.radius) < least - ROUNDING_M


def _share(slack_min: float) -> float:
    if not 0.0 <= finite(slack_min, "slack_min") < 1.0:
        raise Refused("slack_min", "must be from 0 to below 1")
    return float(slack_min)


def _obstacles(given: Sequence[Obstacle], od: float | None) -> list[tuple[Array, float]]:
    """Centres with the distance that the centreline must keep."""
    if not given:
        return []
    if od is None:
        raise Refused("hose_od_m", "is needed: the hose must clear obstacles")
    half = positive(od, "hose_od_m") / 2.0
    return [
        (np.array(pair(o.point_m, "point_m")), not_negative(o.radius_m, "radius_m") + half)
        for o in given
    ]


def _clearance(hose: Hose, end: End, path: Array, around: list[tuple[Array, float]]) -> float:
    """The least gap between the hose, its fittings too, and any obstacle."""
    gaps = []
    for centre, keep in around:
        squares = np.einsum("ij,ij->i", path - centre, path - centre)
        nearest = math.sqrt(max(0.0, -peak(-squares)))
        stubs = ((np.array(hose.fixed), path[0]), (path[-1], np.array(end.point_m)))
        gaps.append(min(nearest, *(_to_stub(centre, a, b) for a, b in stubs)) - keep)
    return min(gaps)


def _to_stub(p: Array, a: Array, b: Array) -> float:
    """Distance of a point from a straight piece."""
    d = b - a
    square = float(d @ d)
    t = min(1.0, max(0.0, float((p - a) @ d) / square)) if square > 0.0 else 0.0
    return float(np.linalg.norm(a + t * d - p))


@dataclass(frozen=True)
class FreeLength:
    """The shortest hose that does, m."""

    length_m: Annotated[float, "With its fittings."]
    governed_by: Annotated[str, "slack or bend radius."]


@rule(
    "lines.hose_free_length",
    title="The shortest hose that does",
    purpose="How long must a hose be to reach and bend at every position?",
    source=ELASTICA,
    validity="As for a hose through its travel; found to 0.05 mm.",
    caution=PEDALS + " " + HOSE,
)
def hose_free_length(
    fixed_point_m: Annotated[Sequence[float], "Where the fixed end is."],
    fixed_angle_rad: Annotated[float, "How the hose leaves it."],
    positions: Annotated[tuple[End, ...], "Of the moving end."],
    min_radius_m: Annotated[float, "The maker's least bend radius."],
    max_length_m: Annotated[float, "The longest that there is room for."],
    end_fitting_m: Annotated[float, "Rigid length of each end fitting."] = 0.0,
    slack_min: Annotated[float, "Least slack, a share of the flexible length."] = SLACK_MIN,
) -> FreeLength:
    """The length, and whether slack or bend radius governs it. Refuses where none fits."""
    at, slack = ends_of(positions), _share(slack_min)
    least, most = positive(min_radius_m, "min_radius_m"), positive(max_length_m, "max_length_m")
    if most > LONGEST_M:
        raise Refused("max_length_m", f"is longer than any hose here: at most {LONGEST_M:g} m")
    fitting = not_negative(end_fitting_m, "end_fitting_m")
    fixed, angle = pair(fixed_point_m, "fixed_point_m"), finite(fixed_angle_rad, "fixed_angle_rad")
    seen = Hose(fixed, angle, 1.0 + 2.0 * fitting, fitting).ends(at)
    chord = float(np.hypot(seen[:, 0], seen[:, 1]).max())
    if chord <= ROUNDING_M:
        raise Refused("positions", "the ends coincide")
    first = chord / (1.0 - slack) + 2.0 * fitting

    turning = float(np.abs(seen[:, 2]).max())

    def fits(length: float) -> bool:
        if length - 2.0 * fitting < least * turning - ROUNDING_M:
            return False  # No shape bends so little.
        hose = Hose(fixed, angle, length, fitting)
        return not any(h.slack < slack - 1e-9 or too_tight(h, least) for h in hung(hose, at))

    long = first
    while long <= most + ROUNDING_M:
        if fits(long):
            break
        long += STEP_M
    else:
        raise Refused("max_length_m", "no hose of up to this length reaches and bends everywhere")
    if long == first:
        return FreeLength(long, "slack")
    low, high = long - STEP_M, long
    while high - low > CLOSE_M:
        middle = (low + high) / 2.0
        low, high = (low, middle) if fits(middle) else (middle, high)
    return FreeLength(high, "bend radius")
