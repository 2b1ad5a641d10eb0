"""A printable card for an included angle, laid across the hinge gap (`controls.template`).

Coordinates, m: inner corner (hinge gap) at the origin, u aft, v away from the skin. The
fixed arm lies along -u. A notch clears the nose bulge; its arc is a chain of chords within
0.02 mm of the circle. Geometry only: papers draw it.
"""

from __future__ import annotations

import itertools
import math
from dataclasses import dataclass
from typing import Annotated

from core.basis.forms import DEG, MM, MM2, Named, Unit
from core.basis.refused import Refused, finite, not_negative, positive, within
from core.basis.rules import rule

Point = tuple[float, float]

LEAST_CARD = 0.010
LEAST_ARM = 0.040
LEAST_WIDTH = 0.015
CHORD_ERROR = 0.00002
SQUARE = 0.100
_SLACK = 1e-12


@dataclass(frozen=True)
class Card:
    """What is asked: included angle rad, arm lengths, width and notch in m."""

    included: Annotated[float, "Angle between the skins, 60 to 300.", DEG]
    arm_fixed: Annotated[float, "Arm on the fixed skin, 40 or more.", MM]
    arm_moving: Annotated[float, "Arm on the moving skin, 40 or more.", MM]
    width: Annotated[float, "Width of the arms, 15 or more.", MM]
    notch_radius: Annotated[float, "Notch for the nose bulge, 0 for none.", MM] = 0.0
    notch_aft: Annotated[float, "Notch centre aft of the corner.", MM] = 0.0
    notch_up: Annotated[float, "Notch centre away from the skin.", MM] = 0.0


@dataclass(frozen=True)
class Template:
    """The card's outline, counter-clockwise, and what to print on it; m and m²."""

    moving_end: Annotated[Point, "End of the moving arm at the skin.", Unit("mm", 1000.0)]
    moving_outer: Annotated[Point, "Its outer corner.", Unit("mm", 1000.0)]
    outer_apex: Annotated[Point, "Outer corner over the hinge.", Unit("mm", 1000.0)]
    fixed_outer: Annotated[Point, "Outer corner of the fixed arm.", Unit("mm", 1000.0)]
    fixed_end: Annotated[Point, "End of the fixed arm at the skin.", Unit("mm", 1000.0)]
    notch: tuple[Point, ...]
    arc_segments: Annotated[int, "Chords of the notch's arc."]
    area: Annotated[float, "Area of the card.", MM2]
    contact_fixed: Annotated[float, "Straight edge left on the fixed skin.", MM]
    contact_moving: Annotated[float, "Straight edge left on the moving skin.", MM]
    label_at: Annotated[Point, "Where the label stands.", Unit("mm", 1000.0)]

    @property
    def ring(self) -> tuple[Point, ...]:
        """All corners in order, the notch's included."""
        corners = (self.moving_end, self.moving_outer, self.outer_apex)
        return (*corners, self.fixed_outer, self.fixed_end, *self.notch)

    @property
    def bbox(self) -> Point:
        """Width and height of the card, m."""
        us, vs = zip(*self.ring, strict=True)
        return max(us) - min(us), max(vs) - min(vs)


@dataclass(frozen=True)
class PrintCheck:
    """What the printer made of the angle, rad, and its scales."""

    included: Annotated[float, "The angle on the paper.", Named("included_printed"), DEG]
    error: Annotated[float, "Its error.", DEG]
    scale_across: Annotated[float, "Scale along the fixed arm."]
    scale_down: Annotated[float, "Scale across it."]
    usable: Annotated[bool, "Angle within 0.1° and both scales within 1 %."]


def calibration_square() -> tuple[Point, ...]:
    """The 100 mm square that is printed beside the card and measured before use, m."""
    return ((0.0, 0.0), (SQUARE, 0.0), (SQUARE, SQUARE), (0.0, SQUARE))


def template(card: Card) -> Template:
    """The outline of the card.

    Refuses an angle outside 60° to 300°, arms under 40 mm or too short for the width, a
    width under 15 mm, and a notch that misses the corner, takes more than half an arm or
    leaves less than 10 mm of card.
    """
    _check(card)
    alpha = math.pi - card.included
    moving: Point = (math.cos(alpha), math.sin(alpha))
    normal: Point = (-moving[1], moving[0])
    reach = card.width / math.sin(card.included / 2.0)
    lean = math.pi - card.included / 2.0
    moving_end = _along(moving, card.arm_moving)
    moving_outer = (
        moving_end[0] + card.width * normal[0],
        moving_end[1] + card.width * normal[1],
    )
    apex = (reach * math.cos(lean), reach * math.sin(lean))
    fixed_outer = (-card.arm_fixed, card.width)
    fixed_end = (-card.arm_fixed, 0.0)
    t_fixed = _notch_along(card, (-1.0, 0.0))
    t_moving = _notch_along(card, moving)
    _check_notch(
        card, (t_fixed, t_moving), (moving_end, moving_outer, apex, fixed_outer, fixed_end)
    )
    notch, segments = _notch(card, t_fixed, moving, t_moving)
    ring = (moving_end, moving_outer, apex, fixed_outer, fixed_end, *notch)
    return Template(
        moving_end,
        moving_outer,
        apex,
        fixed_outer,
        fixed_end,
        notch,
        segments,
        _area(ring),
        card.arm_fixed - t_fixed,
        card.arm_moving - t_moving,
        (-(card.arm_fixed + t_fixed) / 2.0, card.width / 2.0),
    )


@rule(
    "controls.print_check",
    title="Check of a printed template",
    purpose="Did the printer keep the angle?",
    source="Plane geometry.",
    validity="Equal scales keep the angle but not the notch.",
)
def print_check(
    across: Annotated[float, "Square as measured along the fixed arm, 50 to 150.", MM],
    down: Annotated[float, "Square as measured across it, 50 to 150.", MM],
    included: Annotated[float, "The angle asked for.", DEG],
) -> PrintCheck:
    """The printed angle, from the calibration square as measured (m) and the angle asked.

    `across` runs along the fixed arm. Usable when the angle is within 0.1° and both scales
    within 1 %. Equal scales keep the angle but not the notch. Refuses sides outside 50 to
    150 mm.
    """
    within(across, 0.050, 0.150, "across", "from 50 to 150 mm")
    within(down, 0.050, 0.150, "down", "from 50 to 150 mm")
    within(included, math.radians(60), math.radians(300), "included", "from 60 to 300 degrees")
    sx, sy = across / SQUARE, down / SQUARE
    alpha = math.pi - included
    printed = (math.pi - math.atan2(sy * math.sin(alpha), sx * math.cos(alpha))) % (2 * math.pi)
    error = printed - included
    fine = abs(error) <= math.radians(0.1 + 1e-9)
    even = all(abs(s - 1.0) <= 0.01 + 1e-9 for s in (sx, sy))
    return PrintCheck(printed, error, sx, sy, fine and even)


def _check(card: Card) -> None:
    within(card.included, math.radians(60), math.radians(300), "included", "from 60 to 300 degrees")
    for field in ("arm_fixed", "arm_moving"):
        if positive(getattr(card, field), field) < LEAST_ARM - _SLACK:
            raise Refused(field, "must be at least 40 mm")
    if positive(card.width, "width") < LEAST_WIDTH - _SLACK:
        raise Refused("width", "must be at least 15 mm")
    not_negative(card.notch_radius, "notch_radius")
    finite(card.notch_aft, "notch_aft")
    finite(card.notch_up, "notch_up")
    shortest = card.width / math.tan(card.included / 2.0) + LEAST_CARD
    for field in ("arm_fixed", "arm_moving"):
        if getattr(card, field) <= shortest + _SLACK:
            raise Refused(field, "is too short for this width and angle")
    if card.notch_radius and math.hypot(card.notch_aft, card.notch_up) >= card.notch_radius:
        raise Refused("notch_radius", "the notch must take away the corner")


def _notch_along(card: Card, q: Point) -> float:
    """How far along direction q the notch reaches from the corner, m."""
    if card.notch_radius == 0.0:
        return 0.0
    c = (card.notch_aft, card.notch_up)
    middle = q[0] * c[0] + q[1] * c[1]
    return middle + math.sqrt(middle**2 - (c[0] ** 2 + c[1] ** 2) + card.notch_radius**2)


def _check_notch(card: Card, reach: tuple[float, float], outline: tuple[Point, ...]) -> None:
    if card.notch_radius == 0.0:
        return
    for t, arm in zip(reach, (card.arm_fixed, card.arm_moving), strict=True):
        if t > arm / 2.0 + _SLACK:
            raise Refused("notch_radius", "takes more than half an arm")
    centre = (card.notch_aft, card.notch_up)
    edges = itertools.pairwise(outline)
    if min(_distance(centre, a, b) for a, b in edges) - card.notch_radius < LEAST_CARD - _SLACK:
        raise Refused("notch_radius", "leaves less than 10 mm of card at the notch")


def _notch(
    card: Card, t_fixed: float, moving: Point, t_moving: float
) -> tuple[tuple[Point, ...], int]:
    """The arc from the fixed to the moving arm, clockwise about its centre."""
    if card.notch_radius == 0.0:
        return ((0.0, 0.0),), 0
    r, c = card.notch_radius, (card.notch_aft, card.notch_up)
    first, last = (-t_fixed, 0.0), _along(moving, t_moving)
    start = math.atan2(first[1] - c[1], first[0] - c[0])
    end = math.atan2(last[1] - c[1], last[0] - c[0])
    span = (start - end) % (2.0 * math.pi)
    step = 2.0 * math.acos(max(-1.0, 1.0 - CHORD_ERROR / r))
    n = max(2, math.ceil(span / step))
    inner = (
        (c[0] + r * math.cos(start - span * i / n), c[1] + r * math.sin(start - span * i / n))
        for i in range(1, n)
    )
    return (first, *inner, last), n


def _along(direction: Point, length: float) -> Point:
    return direction[0] * length, direction[1] * length


def _area(ring: tuple[Point, ...]) -> float:
    pairs = zip(ring, (*ring[1:], ring[0]), strict=True)
    return math.fsum(a[0] * b[1] - b[0] * a[1] for a, b in pairs) / 2.0


def _distance(p: Point, a: Point, b: Point) -> float:
    """From a point to a stretch of straight edge, m."""
    du, dv = b[0] - a[0], b[1] - a[1]
    along = ((p[0] - a[0]) * du + (p[1] - a[1]) * dv) / (du**2 + dv**2)
    t = min(1.0, max(0.0, along))
    return math.hypot(p[0] - a[0] - t * du, p[1] - a[1] - t * dv)
