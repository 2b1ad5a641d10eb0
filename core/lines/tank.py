"""Holes in a tank's skin and what seats over them (`lines.hole_layout`, `lines.hole_size`,
`lines.washer_seat`)."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

import numpy as np

from core.basis.by_name import rule
from core.basis.refused import Refused, finite, not_negative, positive
from core.basis.verdicts import Verdict
from core.lines.hose_moving import pair
from core.lines.tables import ROUNDING_M
from core.lines.tube import Array
from core.lines.words import GUM, ONE_CHANCE

LEAST_CROSSING = math.radians(20.0)


@dataclass(frozen=True)
class Edge:
    """An edge of the skin, flat: the hole lies at a distance to the left of its direction."""

    point_m: Annotated[Sequence[float], "On the edge."]
    direction: Annotated[Sequence[float], "Along it."]
    distance_m: Annotated[float, "Of the hole, positive to the left."]


@dataclass(frozen=True)
class Second:
    """A second, independent layout: from hole A towards hole B, then to the left."""

    a_m: Annotated[Sequence[float], "Hole A."]
    b_m: Annotated[Sequence[float], "Hole B."]
    along_m: Annotated[float, "From A towards B."]
    offset_m: Annotated[float, "Then to the left."]


@dataclass(frozen=True)
class Layout:
    """Where the hole goes, m."""

    point_m: Annotated[tuple[float, ...], "In the flat skin."]
    u_position_m: Annotated[float, "Largest standard uncertainty of it."]
    check_point_m: Annotated[tuple[float, ...] | None, "By the second layout."]
    difference_m: Annotated[float | None, "Between the two."]
    verdict: Annotated[Verdict, "Whether both agree; not measured without a second."]


@rule(
    "lines.hole_layout",
    title="Where the hole goes",
    purpose="A hole from two edges, and a second layout that must agree.",
    source="Plane geometry. " + GUM,
    validity="Flat development of the skin.",
    caution=ONE_CHANCE,
)
def hole_layout(
    edges: Annotated[tuple[Edge, ...], "Two of them."],
    u_distance_m: Annotated[float, "Standard uncertainty of each distance."] = 0.0,
    check: Annotated[Second | None, "The second layout."] = None,
    tolerance_m: Annotated[float, "How far both may differ."] = 0.001,
) -> Layout:
    """Where two lines meet. Refuses edges that meet at less than 20°."""
    if len(edges) != 2:
        raise Refused("edges", "needs two edges")
    normals, offsets = [], []
    for e in edges:
        d = _direction(e.direction, "direction")
        left = np.array([-d[1], d[0]])
        normals.append(left)
        at = np.array(pair(e.point_m, "point_m"))
        offsets.append(float(left @ at) + finite(e.distance_m, "distance_m"))
    n = np.array(normals)
    if abs(float(np.linalg.det(n))) < math.sin(LEAST_CROSSING):
        raise Refused("edges", "meet at less than 20°")
    inverse = np.linalg.inv(n)
    at = inverse @ np.array(offsets)
    spread = inverse @ inverse.T
    u = not_negative(u_distance_m, "u_distance_m") * math.sqrt(np.linalg.eigvalsh(spread)[-1])
    tolerance = not_negative(tolerance_m, "tolerance_m")
    where = (float(at[0]), float(at[1]))
    if check is None:
        return Layout(where, u, None, None, Verdict.NOT_MEASURED)
    a, b = (np.array(pair(v, name)) for v, name in ((check.a_m, "a_m"), (check.b_m, "b_m")))
    along = _direction((b - a).tolist(), "b_m")
    left = np.array([-along[1], along[0]])
    second = (
        a + finite(check.along_m, "along_m") * along + finite(check.offset_m, "offset_m") * left
    )
    off = float(np.linalg.norm(second - at))
    verdict = Verdict.IN if off <= tolerance + 1e-9 else Verdict.OUT
    return Layout(where, u, (float(second[0]), float(second[1])), off, verdict)


def _direction(value: Sequence[float], field: str) -> Array:
    d = np.array(pair(value, field))
    size = float(np.linalg.norm(d))
    if size < 1e-12:
        raise Refused(field, "has length zero")
    found: Array = d / size
    return found


@dataclass(frozen=True)
class HoleSize:
    """How large a hole may be, m."""

    smallest_m: Annotated[float, "That the fitting passes."]
    largest_m: Annotated[float, "Over which it still overlaps, pushed to one side."]
    worst_overlap_m: Annotated[float | None, "Of the drilled hole; null: not drilled."]
    verdict: Annotated[Verdict, "Of the drilled hole; not measured before."]


@rule(
    "lines.hole_size",
    title="How large a hole",
    purpose="What hole lets the fitting through and is still covered by its flange?",
    source="Geometry.",
    validity="Round fittings in round holes.",
    caution=ONE_CHANCE,
)
def hole_size(
    body_m: Annotated[float, "Diameter that goes through."],
    flange_m: Annotated[float, "Diameter of the flange or washer."],
    min_clearance_m: Annotated[float, "Least clearance around the body."],
    min_overlap_m: Annotated[float, "Least overlap of the flange."],
    drilled_m: Annotated[float | None, "The hole as drilled."] = None,
) -> HoleSize:
    """Smallest and largest. Refuses a flange no wider than the body, and no hole that does."""
    body, flange = positive(body_m, "body_m"), positive(flange_m, "flange_m")
    if flange <= body:
        raise Refused("flange_m", "must be wider than the body")
    small = body + not_negative(min_clearance_m, "min_clearance_m")
    overlap = not_negative(min_overlap_m, "min_overlap_m")
    large = (flange + body) / 2.0 - overlap
    if small > large + ROUNDING_M:
        raise Refused("min_overlap_m", "no hole is large enough and still covered")
    if drilled_m is None:
        return HoleSize(small, large, None, Verdict.NOT_MEASURED)
    hole = positive(drilled_m, "drilled_m")
    covered = (flange - hole) / 2.0 - (hole - body) / 2.0
    fits = small - ROUNDING_M <= hole <= large + ROUNDING_M
    return HoleSize(small, large, covered, Verdict.IN if fits else Verdict.OUT)


@dataclass(frozen=True)
class WasherSeat:
    """How a washer sits, m."""

    rim_gap_m: Annotated[float, "Under its rim."]
    verdict: Annotated[Verdict, "Against gap and margin."]
    edge_margin_m: Annotated[float | None, "To the bend's tangent line; null on a curve."] = None


@rule(
    "lines.washer_seat",
    title="Does the washer sit flat?",
    purpose="The gap under a washer on a curved skin or beside a bend.",
    source="Geometry of a circle.",
    validity="One curvature at a time.",
    caution="A washer pulled over a curve cracks the skin or the sealant: use a shaped seat or"
    " move the hole.",
)
def washer_seat(
    washer_m: Annotated[float, "Outside diameter."],
    max_gap_m: Annotated[float, "Greatest gap under its rim."],
    surface_radius_m: Annotated[float | None, "Of a curved skin."] = None,
    distance_to_bend_m: Annotated[float | None, "From the hole to the bend's tangent line."] = None,
    bend_radius_m: Annotated[float | None, "Of the bend beside it."] = None,
    min_margin_m: Annotated[float, "Least margin beside a bend."] = 0.0,
) -> WasherSeat:
    """The gap at the rim. Refuses both or neither shape, and a washer wider than its curve."""
    half, most = positive(washer_m, "washer_m") / 2.0, not_negative(max_gap_m, "max_gap_m")
    beside = distance_to_bend_m is not None or bend_radius_m is not None
    if (surface_radius_m is not None) == beside:
        raise Refused("surface_radius_m", "enter a curved skin or a bend beside it, one of them")
    if surface_radius_m is not None:
        radius = positive(surface_radius_m, "surface_radius_m")
        if radius <= half:
            raise Refused("surface_radius_m", "the washer is wider than the curve")
        gap = radius - math.sqrt(radius**2 - half**2)
        return WasherSeat(gap, Verdict.IN if gap <= most + 1e-9 else Verdict.OUT)
    if distance_to_bend_m is None:
        raise Refused("distance_to_bend_m", "is needed with a bend")
    if bend_radius_m is None:
        raise Refused("bend_radius_m", "is needed with a bend")
    margin = finite(distance_to_bend_m, "distance_to_bend_m") - half
    radius, gap = positive(bend_radius_m, "bend_radius_m"), 0.0
    if margin < 0.0:
        if -margin > radius:
            raise Refused("distance_to_bend_m", "the washer hangs over the whole bend")
        gap = radius - math.sqrt(radius**2 - margin**2)
    fits = margin >= finite(min_margin_m, "min_margin_m") - ROUNDING_M and gap <= most + 1e-9
    return WasherSeat(gap, Verdict.IN if fits else Verdict.OUT, margin)
