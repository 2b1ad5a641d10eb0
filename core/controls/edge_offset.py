"""Deflection from how far the trailing edge moved (`controls.edge_offset`).

The trailing edge moves on a circle about the hinge. Three practices measure three different
lengths of the same motion: `straight` (ruler between the two positions), `perpendicular`
(square to the neutral plane) and `arc` (tape along the path). An offset without its
practice means nothing.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Annotated

from core.basis.forms import DEG, MM, Named, OneOf
from core.basis.refused import Refused, choice, finite, not_negative, positive, within
from core.basis.uncertainty import Contribution
from core.controls.deflection import RIGHT_ANGLE, Deflection, deflection

PRACTICES = ("straight", "perpendicular", "arc")
_EDGE = 1e-6


@dataclass(frozen=True)
class TrailingEdge:
    """`chord` from hinge axis to trailing edge, square to the hinge, m; `phi` rad: the line
    hinge to trailing edge above the neutral plane, + towards the motion measured."""

    chord: Annotated[float, "Hinge axis to trailing edge, square to the hinge.", MM]
    practice: Annotated[str, "What the offset was measured along.", OneOf(PRACTICES)]
    phi: Annotated[float, "Line hinge to edge above the neutral plane, -45 to 45.", DEG] = 0.0


@dataclass(frozen=True)
class OffsetUncertainty:
    """Standard uncertainties: offset and chord m, phi rad."""

    offset: Annotated[float, "Standard uncertainty of the offset.", Named("u_offset"), MM] = 0.0
    chord: Annotated[float, "Standard uncertainty of the chord.", Named("u_chord"), MM] = 0.0
    phi: Annotated[float, "Standard uncertainty of phi.", Named("u_phi"), DEG] = 0.0


@dataclass(frozen=True)
class OffsetDeflection:
    """The unsigned deflection and its slopes, rad per m (phi: rad per rad)."""

    deflection: Deflection
    per_offset: float
    per_chord: float
    per_phi: float


def edge_offset(
    edge: TrailingEdge,
    offset: float,
    u: OffsetUncertainty = OffsetUncertainty(),
    lo: float | None = None,
    hi: float | None = None,
) -> OffsetDeflection:
    """Unsigned deflection, rad, from the offset, m. The direction is the requirement's.

    Refuses a chord that is not positive, a negative offset, and one that is larger than
    this chord gives at 90° (perpendicular: at 90° or where the edge turns back).
    """
    _check(edge)
    not_negative(offset, "offset")
    for field in ("offset", "chord", "phi"):
        not_negative(getattr(u, field), f"u_{field}")
    largest = _offset(edge, _furthest(edge))
    room = _EDGE * edge.chord if edge.practice == "perpendicular" else -1e-12 * edge.chord
    if offset > largest - room:
        raise Refused("offset", "larger than this chord can give up to 90 degrees")
    value, slopes = _deflection(edge, offset)
    parts = tuple(
        Contribution(abs(slope) * getattr(u, field), None, field)
        for field, slope in zip(("offset", "chord", "phi"), slopes, strict=True)
    )
    return OffsetDeflection(deflection(value, parts, lo, hi), *slopes)


def offset_for(edge: TrailingEdge, deflection_rad: float) -> float:
    """The offset, m, that shows this deflection (0 to 90°): what to look for on the ruler."""
    _check(edge)
    within(deflection_rad, 0.0, RIGHT_ANGLE, "deflection", "from 0 to 90 degrees")
    if deflection_rad > _furthest(edge) + 1e-12:
        raise Refused("deflection", "the edge turns back before this deflection")
    return _offset(edge, deflection_rad)


def _check(edge: TrailingEdge) -> None:
    positive(edge.chord, "chord")
    choice(edge.practice, PRACTICES, "practice")
    limit = math.radians(45.0)
    within(finite(edge.phi, "phi"), -limit, limit, "phi", "from -45 to 45 degrees")


def _furthest(edge: TrailingEdge) -> float:
    """The greatest deflection that an offset still tells without doubt, rad."""
    if edge.practice != "perpendicular":
        return RIGHT_ANGLE
    return min(RIGHT_ANGLE, RIGHT_ANGLE - edge.phi)


def _offset(edge: TrailingEdge, d: float) -> float:
    if edge.practice == "straight":
        return 2.0 * edge.chord * math.sin(d / 2.0)
    if edge.practice == "perpendicular":
        return edge.chord * (math.sin(edge.phi + d) - math.sin(edge.phi))
    return edge.chord * d


def _deflection(edge: TrailingEdge, offset: float) -> tuple[float, tuple[float, float, float]]:
    """Deflection, and its slopes by offset, chord and phi."""
    c = edge.chord
    if edge.practice == "straight":
        d = 2.0 * math.asin(min(1.0, offset / (2.0 * c)))
        return d, (1.0 / (c * math.cos(d / 2.0)), -2.0 * math.tan(d / 2.0) / c, 0.0)
    if edge.practice == "perpendicular":
        start = math.sin(edge.phi)
        d = math.asin(min(1.0, offset / c + start)) - edge.phi
        turn = math.cos(edge.phi + d)
        rise = math.sin(edge.phi + d) - start
        return d, (1.0 / (c * turn), -rise / (c * turn), math.cos(edge.phi) / turn - 1.0)
    d = offset / c
    return d, (1.0 / c, -d / c, 0.0)
