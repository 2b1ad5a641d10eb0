"""From a route to a bend card and back (`lines.bend_card`, `lines.lra_to_xyz`)."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

import numpy as np

from core.basis.by_name import rule
from core.basis.refused import Refused, finite, not_negative
from core.lines.tube import SAME_M, Tube, bends, cross, legs, one_each, point, points, unit
from core.lines.words import BENDING, CUT

Numbers = tuple[float, ...]
VERTICES = "Corners of the centreline, at least two points."


@dataclass(frozen=True)
class BendCard:
    """What to bend, where and how far; lengths m, angles rad."""

    radii_m: Annotated[Numbers, "Finished centreline radius of each bend."]
    straights_m: Annotated[Numbers, "Between the bends."]
    angles_rad: Annotated[Numbers, "Of each bend; 0 is straight on."]
    rotations_rad: Annotated[
        Numbers,
        "Of the bend plane from each bend to the next, right-hand about the tube towards its far"
        " end; a bender whose plane stays put turns the tube the other way.",
    ]
    arcs_m: Annotated[Numbers, "Length of each bend along the centreline."]
    tangents_m: Annotated[Numbers, "From the corner to the begin of each bend."]
    gain_m: Annotated[float, "By how much the tube is shorter than its corners."]
    developed_m: Annotated[float, "Along the centreline."]
    cut_length_m: Annotated[float, "With allowances, less what the bends stretch."]
    marks_m: Annotated[Numbers, "Of each bend from the start of the cut tube."]
    bend_to_rad: Annotated[Numbers, "Bend so far: it comes back by the springback."]
    first_direction: Annotated[Numbers, "Of the first straight."]
    first_normal: Annotated[Numbers | None, "Of the first bend's plane; none without a bend."]


@rule(
    "lines.bend_card",
    title="Bend card of a tube",
    purpose="Where to mark, how far to bend, how far to turn the tube between bends?",
    source=BENDING,
    validity="Constant bend radius, no thinning.",
    caution=CUT,
)
def bend_card(
    vertices_m: Annotated[Sequence[Sequence[float]], VERTICES],
    radii_m: Annotated[Sequence[float] | None, "Finished radii, one for each inner corner."] = None,
    former_radii_m: Annotated[
        Sequence[float] | None, "Instead: on the bender's former, one each."
    ] = None,
    start_allowance_m: Annotated[float, "Extra tube at the start (flare, trimming, nut)."] = 0.0,
    end_allowance_m: Annotated[float, "Extra tube at the far end."] = 0.0,
    bender_offset_m: Annotated[
        float, "The bender's reference line against the start of bend, towards the far end."
    ] = 0.0,
    springback_a_rad: Annotated[float, "Springback a: comes back by a + b × bent to."] = 0.0,
    springback_b: Annotated[float, "Springback b, from 0 to below 1."] = 0.0,
    stretch_m: Annotated[Sequence[float] | None, "What each bend lengthens the tube."] = None,
) -> BendCard:
    """Marks, rotations and bend angles of a tube. Refuses bends that overlap and marks off it."""
    at = points(vertices_m, "vertices_m")
    angles = bends(legs(at)[0])
    a, b = not_negative(springback_a_rad, "springback_a_rad"), finite(springback_b, "springback_b")
    if not 0.0 <= b < 1.0:
        raise Refused("springback_b", "must be from 0 to below 1")
    bend_to = tuple((beta + a) / (1.0 - b) for beta in angles)
    if (radii_m is None) == (former_radii_m is None):
        raise Refused("radii_m", "enter the finished radii or those of the former, one of them")
    field = "radii_m" if radii_m is not None else "former_radii_m"
    entered = one_each(radii_m or former_radii_m or (), len(angles), field)
    if field == "former_radii_m":
        entered = [r * to / is_ for r, to, is_ in zip(entered, bend_to, angles, strict=True)]
    tube = Tube.of(vertices_m, entered, field)
    stretch = [finite(s, "stretch_m") for s in stretch_m or [0.0] * len(angles)]
    if len(stretch) != len(angles):
        raise Refused("stretch_m", f"needs one for each bend: {len(angles)}")
    start = not_negative(start_allowance_m, "start_allowance_m")
    end = not_negative(end_allowance_m, "end_allowance_m")
    cut = start + tube.developed_m - math.fsum(stretch) + end
    return BendCard(
        radii_m=tube.radii,
        straights_m=tube.straights,
        angles_rad=tube.angles,
        rotations_rad=tube.rotations,
        arcs_m=tube.arcs,
        tangents_m=tube.tangents,
        gain_m=tube.corners_m - tube.developed_m,
        developed_m=tube.developed_m,
        cut_length_m=cut,
        marks_m=_marks(tube, stretch, start + finite(bender_offset_m, "bender_offset_m"), cut),
        bend_to_rad=bend_to,
        first_direction=tuple(map(float, tube.directions[0])),
        first_normal=tuple(map(float, tube.normals[0])) if angles else None,
    )


def _marks(tube: Tube, stretch: list[float], first: float, cut: float) -> Numbers:
    """From the start of the cut tube to the reference line at each bend."""
    found, at = [], first
    for n in range(len(tube.angles)):
        at += tube.straights[n]
        if not -SAME_M <= at <= cut + SAME_M:
            raise Refused("bender_offset_m", f"puts the mark of bend {n + 1} off the tube")
        found.append(at)
        at += tube.arcs[n] - stretch[n]
    return tuple(found)


@dataclass(frozen=True)
class Walked:
    """A tube walked along from its lengths, rotations and angles."""

    vertices_m: Annotated[tuple[Numbers, ...], "Corners, both ends included."]
    end_m: Annotated[Numbers, "The far end."]
    last_direction: Annotated[Numbers, "Of the last straight."]


@rule(
    "lines.lra_to_xyz",
    title="Lengths, rotations and angles to points",
    purpose="Where does a tube of these straights, turns and bends lie?",
    source=BENDING,
    validity="Constant bend radius.",
    caution=CUT,
)
def lra_to_xyz(
    straights_m: Annotated[Sequence[float], "One more than there are bends."],
    angles_rad: Annotated[Sequence[float], "Of each bend."],
    rotations_rad: Annotated[Sequence[float], "One fewer than there are bends."],
    radii_m: Annotated[Sequence[float], "Finished centreline radius of each bend."],
    start_m: Annotated[Sequence[float], "Where it begins."],
    first_direction: Annotated[Sequence[float], "Of the first straight."],
    first_normal: Annotated[Sequence[float] | None, "Of the first bend's plane."] = None,
) -> Walked:
    """The corners of a tube. Refuses a first normal along the first straight."""
    angles = [finite(x, "angles_rad") for x in angles_rad]
    for beta in angles:
        if not 0.0 < beta < math.pi:
            raise Refused("angles_rad", "must be above 0 and below 180°")
    straights = [not_negative(x, "straights_m") for x in straights_m]
    if len(straights) != len(angles) + 1:
        raise Refused("straights_m", "needs one more than there are bends")
    rotations = [finite(x, "rotations_rad") for x in rotations_rad]
    if len(rotations) != max(0, len(angles) - 1):
        raise Refused("rotations_rad", "needs one fewer than there are bends")
    radii = one_each(radii_m, len(angles), "radii_m")
    p, d = point(start_m, "start_m"), point(first_direction, "first_direction")
    if np.linalg.norm(d) < 1e-12:
        raise Refused("first_direction", "has length zero")
    d = unit(d)
    n = np.zeros(3)
    if angles:
        if first_normal is None:
            raise Refused("first_normal", "is needed: a bend has a plane")
        n = point(first_normal, "first_normal")
        n = n - (n @ d) * d
        if np.linalg.norm(n) < 1e-9:
            raise Refused("first_normal", "lies along the first straight")
        n = unit(n)
    found = [p]
    for i, beta in enumerate(angles):
        t = radii[i] * math.tan(beta / 2)
        corner = p + (straights[i] + t) * d
        d = _turned(d, n, beta)
        p = corner + t * d
        if i < len(rotations):
            n = _turned(n, d, rotations[i])
        found.append(corner)
    end = p + straights[-1] * d
    return Walked(
        tuple(tuple(map(float, v)) for v in (*found, end)),
        tuple(map(float, end)),
        tuple(map(float, d)),
    )


def _turned(v: np.ndarray, about: np.ndarray, by: float) -> np.ndarray:
    """A vector turned about an axis of length one."""
    c, s = math.cos(by), math.sin(by)
    return unit(v * c + cross(about, v) * s + about * float(about @ v) * (1.0 - c))


def springback(first: Sequence[float], second: Sequence[float]) -> tuple[float, float]:
    """a, rad, and b of a tube from two trial bends, each [bent to, came back to], rad.

    Comes back by a + b × bent to. Refuses bends that came back the wrong way, that are too much
    alike, and an answer that no tube gives.
    """
    rows = []
    for name, trial in (("first_trial", first), ("second_trial", second)):
        to, after = (finite(x, name) for x in trial)
        if not 0.0 < after <= to < math.pi:
            raise Refused(name, "enter bent to, then what it came back to: not more, below 180°")
        rows.append((to, to - after))
    (c1, s1), (c2, s2) = rows
    if abs(c1 - c2) < math.radians(20.0):
        raise Refused("second_trial", "bend it at least 20° further or less than the first")
    b = (s1 - s2) / (c1 - c2)
    a = s1 - b * c1
    if not -1e-9 <= b < 1.0 or a < -1e-9:
        raise Refused("second_trial", "does not go with the first: measure both again")
    return max(0.0, a), max(0.0, b)
