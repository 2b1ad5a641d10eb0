"""A tube from an old one, and its drawing to lay it on (`lines.as_removed`,
`lines.tube_template`)."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

import numpy as np

from core.basis.by_name import rule
from core.basis.refused import Refused, not_negative, positive
from core.lines.bend import VERTICES, Numbers
from core.lines.shaping import RADII
from core.lines.tables import FINDINGS_OF, Findings, sorted_findings
from core.lines.tube import LEAST_BEND, Array, Tube, bend_angle, point, points, unit
from core.lines.words import BENDING

APART_M = 1e-3
# How far the straights of an old tube may miss each other: this product's assumption.
GAP_M = 0.002


@dataclass(frozen=True)
class AsRemoved:
    """The tube as it was measured; lengths m, angles rad."""

    vertices_m: Annotated[tuple[Numbers, ...], "Corners, ends included."]
    gaps_m: Annotated[Numbers, "By how much successive straights miss each other."]
    residuals_m: Annotated[Numbers, "Largest distance of a point from its straight."]
    findings: Annotated[Findings, FINDINGS_OF]
    angles_rad: Annotated[Numbers, "Of each bend."]
    rotations_rad: Annotated[Numbers, "From each bend plane to the next."]
    straights_m: Annotated[Numbers, "Between the bends."]
    developed_m: Annotated[float, "Along the centreline."]
    end_distance_m: Annotated[float, "From end to end: compare with the aircraft."]


@rule(
    "lines.as_removed",
    title="A tube from an old one",
    purpose="What card makes the tube that was taken out?",
    source=BENDING + " Least squares through each straight.",
    validity="Points on the centreline of each straight, in order.",
    caution="Check in the aircraft with a wire template before cutting; a mangled bend is not a"
    " pattern.",
)
def as_removed(
    straights_points_m: Annotated[
        Sequence[Sequence[Sequence[float]]], "Two or more points of each straight, in order."
    ],
    radii_m: Annotated[Sequence[float], RADII],
    start_m: Annotated[Sequence[float], "Where it begins."],
    end_m: Annotated[Sequence[float], "Where it ends."],
    gap_limit_m: Annotated[float, "How far lines may miss, and points lie off."],
) -> AsRemoved:
    """Corners from measured straights. Refuses points too near each other and parallel ones."""
    limit = not_negative(gap_limit_m, "gap_limit_m")
    lines = [_line(p) for p in straights_points_m]
    if not lines:
        raise Refused("straights_points_m", "needs at least one straight")
    corners, gaps = [], []
    for (a, d, _), (b, e, _) in itertools.pairwise(lines):
        if min(bend_angle(d, e), bend_angle(d, -e)) < LEAST_BEND:
            raise Refused("straights_points_m", "successive straights are parallel")
        p, q = _nearest(a, d, b, e)
        corners.append((p + q) / 2)
        gaps.append(float(np.linalg.norm(p - q)))
    first = _dropped(point(start_m, "start_m"), lines[0])
    last = _dropped(point(end_m, "end_m"), lines[-1])
    vertices = [tuple(map(float, v)) for v in (first, *corners, last)]
    tube = Tube.of(vertices, radii_m)
    off = tuple(residual for _, _, residual in lines)
    found = [("lines_miss_at_bend", n) for n, g in enumerate(gaps, 1) if g > limit]
    found += [("straight_not_straight", n) for n, r in enumerate(off) if r > limit]
    return AsRemoved(
        tuple(vertices),
        tuple(gaps),
        off,
        sorted_findings(found),
        tube.angles,
        tube.rotations,
        tube.straights,
        tube.developed_m,
        float(np.linalg.norm(last - first)),
    )


def _line(measured: Sequence[Sequence[float]]) -> tuple[Array, Array, float]:
    """Mean, direction in order, and the largest distance of a point from it."""
    at = points(measured, "straights_points_m")
    if np.any(np.linalg.norm(np.diff(at, axis=0), axis=1) < APART_M):
        raise Refused("straights_points_m", "points lie within 1 mm of each other")
    mean = at.mean(axis=0)
    d: Array = np.linalg.svd(at - mean)[2][0]
    if float(d @ (at[-1] - at[0])) < 0:
        d = -d
    off = (at - mean) - np.outer((at - mean) @ d, d)
    return mean, d, float(np.linalg.norm(off, axis=1).max())


def _nearest(a: Array, d: Array, b: Array, e: Array) -> tuple[Array, Array]:
    """The points of two lines that are nearest each other."""
    k, w = float(d @ e), b - a
    s = (float(w @ d) - float(w @ e) * k) / (1.0 - k * k)
    return a + s * d, b + (s * k - float(w @ e)) * e


def _dropped(p: Array, line: tuple[Array, Array, float]) -> Array:
    mean, d, _ = line
    found: Array = mean + float((p - mean) @ d) * d
    return found


@dataclass(frozen=True)
class Template:
    """A planar tube laid flat, m: u along its first straight, first bend to the left."""

    tangent_points_m: Annotated[tuple[Numbers, ...], "Begin and end of each bend."]
    end_m: Annotated[Numbers, "The far end."]
    out_of_plane_m: Annotated[float, "Furthest corner from the best plane."]
    centreline_size_m: Annotated[Numbers, "Width and height of the centreline."]
    sheet_size_m: Annotated[Numbers, "With the tube's diameter."]


@rule(
    "lines.tube_template",
    title="Template of a planar tube",
    purpose="A drawing 1:1 to lay the tube on.",
    source=BENDING,
    validity="Tubes that lie flat.",
    caution="Measure the printed ruler first.",
)
def tube_template(
    vertices_m: Annotated[Sequence[Sequence[float]], VERTICES],
    radii_m: Annotated[Sequence[float], RADII],
    od_m: Annotated[float, "Outside diameter."],
    planar_limit_m: Annotated[float, "How far a corner may lie off the plane."] = 0.001,
) -> Template:
    """The tube in its own plane. Refuses one that does not lie flat."""
    tube, od = Tube.of(vertices_m, radii_m), positive(od_m, "od_m")
    off = out_of_plane(tube.vertices)
    if off > not_negative(planar_limit_m, "planar_limit_m"):
        raise Refused("vertices_m", f"do not lie flat: {off * 1e3:.1f} mm off their best plane")
    tangent, low, high, end = laid_flat(tube)
    size = (high[0] - low[0], high[1] - low[1])
    return Template(tuple(tangent), end, off, size, (size[0] + od, size[1] + od))


def out_of_plane(vertices: Array) -> float:
    """The largest distance of a point from the plane that fits best."""
    if len(vertices) < 4:
        return 0.0
    offset = vertices - vertices.mean(axis=0)
    return float(np.abs(offset @ np.linalg.svd(offset)[2][2]).max())


Flat = tuple[float, float]


def laid_flat(tube: Tube) -> tuple[list[Flat], Flat, Flat, Flat]:
    """Tangent points, least and greatest corner of the centreline, and the far end."""
    at, heading, side = np.zeros(2), 0.0, 1.0
    tangent: list[Flat] = []
    seen = [at.copy()]
    for n, beta in enumerate(tube.angles):
        if n and abs(tube.rotations[n - 1]) > math.pi / 2:
            side = -side
        at = at + tube.straights[n] * _heading(heading)
        tangent.append(_flat(at))
        seen.append(at)
        centre = at + side * tube.radii[n] * _heading(heading + math.pi / 2)
        begin = heading - side * math.pi / 2
        seen += [
            centre + tube.radii[n] * _heading(begin + side * a)
            for a in _quarters(begin, side, beta)
        ]
        heading += side * beta
        at = centre + tube.radii[n] * _heading(heading - side * math.pi / 2)
        tangent.append(_flat(at))
        seen.append(at)
    at = at + tube.straights[-1] * _heading(heading)
    every = np.array([*seen, at])
    return tangent, _flat(every.min(axis=0)), _flat(every.max(axis=0)), _flat(at)


def _heading(angle: float) -> Array:
    return unit(np.array([math.cos(angle), math.sin(angle)]))


def _flat(p: Array) -> Flat:
    return float(p[0]) + 0.0, float(p[1]) + 0.0


def _quarters(begin: float, side: float, beta: float) -> list[float]:
    """How far along an arc from `begin` it runs level or upright, rad."""
    quarter = math.pi / 2
    first = (-begin * side) % quarter
    return [a for a in (first + k * quarter for k in range(5)) if a < beta]
