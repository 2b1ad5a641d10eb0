"""Is it a tube that can be bent, and where does its far end go (`lines.min_bend_radius`,
`lines.tube_checks`, `lines.closing_error`)?"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated, Literal

import numpy as np

from core.basis.by_name import rule
from core.basis.refused import Refused, choice, not_negative, positive
from core.lines.bend import VERTICES, Numbers
from core.lines.tables import (
    FINDINGS_OF,
    INCH_M,
    MATERIALS,
    ROUNDING_M,
    Findings,
    column,
    sorted_findings,
)
from core.lines.tube import Array, Tube, point
from core.lines.words import BENDING, CUT, SCRAP, TABLE_9_2

Material = Literal["aluminium", "steel"]
RADII = "Finished centreline radius of each bend."
NO_EFFECT = 1e-12


@dataclass(frozen=True)
class LeastRadius:
    """The least bend radius, m, and the row that it comes from."""

    radius_m: Annotated[float, "To the centreline."]
    row_od_m: Annotated[float, "Outside diameter of the row that was used."]


@rule(
    "lines.min_bend_radius",
    title="Least bend radius of a tube",
    purpose="How tight may this tube be bent?",
    source=TABLE_9_2,
    validity="Aluminium and steel tube, 1/8 to 1 in; the kit maker's figure comes first.",
    caution=SCRAP,
)
def min_bend_radius(
    od_m: Annotated[float, "Outside diameter."],
    material: Annotated[Material, "Of the tube."],
) -> LeastRadius:
    """The row of that size, or the next larger one. Refuses sizes outside the table."""
    size = positive(od_m, "od_m")
    rows = column("radius", choice(material, MATERIALS, "material"))
    if size < rows[0][0] - ROUNDING_M:
        raise Refused("od_m", "below the smallest built-in row")
    for od, radius in rows:
        if od >= size - ROUNDING_M:
            return LeastRadius(radius * INCH_M, od)
    raise Refused("od_m", "above the largest built-in row")


@dataclass(frozen=True)
class TubeChecked:
    """What is wrong with a tube's shape, and the radius that it was held to."""

    findings: Annotated[Findings, FINDINGS_OF]
    min_radius_m: Annotated[float, "Least radius that was asked."]


@rule(
    "lines.tube_checks",
    title="Can this tube be bent?",
    purpose="Are bends wide enough and straights long enough for the bender and the fittings?",
    source=TABLE_9_2,
    validity="Finished radii; the kit maker's figures come first.",
    caution=SCRAP,
)
def tube_checks(
    vertices_m: Annotated[Sequence[Sequence[float]], VERTICES],
    radii_m: Annotated[Sequence[float], RADII],
    od_m: Annotated[float, "Outside diameter."],
    material: Annotated[Material | None, "Of the tube, for the built-in radius."] = None,
    min_radius_m: Annotated[float | None, "Instead: the maker's least radius."] = None,
    min_between_m: Annotated[float, "Straight that the bender grips between bends."] = 0.0,
    min_start_m: Annotated[float, "First straight: flare, sleeve and nut."] = 0.0,
    min_end_m: Annotated[float, "Last straight."] = 0.0,
) -> TubeChecked:
    """Findings on a tube. Refuses both or neither of material and an entered radius."""
    if (material is None) == (min_radius_m is None):
        raise Refused("min_radius_m", "enter the material or the maker's radius, one of them")
    positive(od_m, "od_m")
    tube = Tube.of(vertices_m, radii_m)
    least = (
        min_bend_radius(od_m, material).radius_m
        if material is not None
        else positive(min_radius_m or 0.0, "min_radius_m")
    )
    between = not_negative(min_between_m, "min_between_m")
    first, last = not_negative(min_start_m, "min_start_m"), not_negative(min_end_m, "min_end_m")
    n = len(tube.straights) - 1
    found: list[tuple[str, int]] = [
        ("radius_below_minimum", i) for i, r in enumerate(tube.radii, 1) if r < least - ROUNDING_M
    ]
    found += [
        ("straight_too_short", i) for i in range(1, n) if tube.straights[i] < between - ROUNDING_M
    ]
    if tube.straights[0] < first - ROUNDING_M:
        found.append(("start_straight_too_short", 0))
    if tube.straights[n] < last - ROUNDING_M:
        found.append(("end_straight_too_short", n))
    return TubeChecked(sorted_findings(found), least)


@dataclass(frozen=True)
class Shift:
    """How the far end moves with one straight, angle or rotation: m per m, or m per rad."""

    kind: Annotated[str, "straight, angle or rotation."]
    index: Annotated[int, "Straights from 0; bends and rotations from 1."]
    shift_per_unit: Annotated[Numbers, "Of the far end."]


@dataclass(frozen=True)
class Cause:
    """One change that would explain the error, and what it leaves over."""

    kind: Annotated[str, "straight, angle or rotation."]
    index: Annotated[int, "Straights from 0; bends and rotations from 1."]
    change: Annotated[float, "Of that length, m, or angle, rad."]
    left_over_m: Annotated[float, "Of the error, with this change alone."]


@dataclass(frozen=True)
class Closing:
    """Where the far end goes; of the error only where the end was measured."""

    shifts: Annotated[tuple[Shift, ...], "Of each straight, angle and rotation."]
    u_end_m: Annotated[float, "Largest standard uncertainty of the far end."]
    error_m: Annotated[Numbers | None, "Measured less computed."] = None
    error_size_m: Annotated[float | None, "Its size."] = None
    along_last_m: Annotated[float | None, "Its part along the last straight."] = None
    across_last_m: Annotated[float | None, "Its part across the last straight."] = None
    single_causes: Annotated[tuple[Cause, ...] | None, "Best explanation first."] = None


@rule(
    "lines.closing_error",
    title="Why does the far end miss?",
    purpose="How far the end moves for each error of bending, and which one explains a miss.",
    source=BENDING + " First order; least squares.",
    validity="Small errors: measure again where the error is over a tenth of the length.",
    caution=CUT,
)
def closing_error(
    vertices_m: Annotated[Sequence[Sequence[float]], VERTICES],
    radii_m: Annotated[Sequence[float], RADII],
    measured_end_m: Annotated[Sequence[float] | None, "Where the far end is."] = None,
    u_length_m: Annotated[float, "Standard uncertainty of each straight."] = 0.0,
    u_angle_rad: Annotated[float, "Of each bend angle."] = 0.0,
    u_rotation_rad: Annotated[float, "Of each rotation."] = 0.0,
) -> Closing:
    """Start and first bend plane held. Refuses what is no tube."""
    tube = Tube.of(vertices_m, radii_m)
    u = {
        "straight": not_negative(u_length_m, "u_length_m"),
        "angle": not_negative(u_angle_rad, "u_angle_rad"),
        "rotation": not_negative(u_rotation_rad, "u_rotation_rad"),
    }
    causes = _causes(tube)
    total = sum((u[kind] ** 2 * np.outer(g, g) for kind, _, g in causes), np.zeros((3, 3)))
    spread = math.sqrt(max(0.0, float(np.linalg.eigvalsh(total)[-1])))
    shifts = tuple(Shift(kind, i, tuple(map(float, g))) for kind, i, g in causes)
    if measured_end_m is None:
        return Closing(shifts, spread)
    e = point(measured_end_m, "measured_end_m") - tube.vertices[-1]
    along = float(e @ tube.directions[-1])
    order = ["straight", "angle", "rotation"]
    single = [
        Cause(kind, i, x, float(np.linalg.norm(e - x * g)))
        for kind, i, g in causes
        if float(g @ g) >= NO_EFFECT
        for x in (float(e @ g) / float(g @ g),)
    ]
    single.sort(key=lambda c: (round(c.left_over_m, 9), order.index(c.kind), c.index))
    size = float(np.linalg.norm(e))
    across = float(np.linalg.norm(e - along * tube.directions[-1]))
    return Closing(shifts, spread, tuple(map(float, e)), size, along, across, tuple(single))


def _causes(tube: Tube) -> list[tuple[str, int, Array]]:
    """How the far end moves with each straight, angle and rotation."""
    end = tube.vertices[-1]
    found = [("straight", i, d) for i, d in enumerate(tube.directions)]
    for i in range(1, len(tube.angles) + 1):
        found.append(("angle", i, np.cross(tube.normals[i - 1], end - tube.centre(i))))
    for i in range(1, len(tube.rotations) + 1):
        about = np.cross(tube.directions[i], end - tube.vertices[i])
        found.append(("rotation", i, about))
    return found
