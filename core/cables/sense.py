"""Does the surface move the way the pilot means it? `cables.sense_check`."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

from core.basis.forms import OneOf
from core.basis.refused import Refused, choice, finite
from core.basis.rules import rule
from core.basis.vectors import cross, dot, minus, size, unit, vec

CAUTION = "Check it on the aircraft with your eyes. Crossed controls have killed."
# Control -> the pilot's motion, and where the trailing edge has to go: axis index and sign.
MEANT = {
    "rudder": ("right pedal forward", 1, 1),
    "elevator": ("stick aft", 2, 1),
    "right aileron": ("stick right", 2, 1),
    "left aileron": ("stick right", 2, -1),
}
LEAST_ALONG = 0.3


@dataclass(frozen=True)
class Sense:
    """Whether it moves the right way, and the overall gain."""

    correct: Annotated[bool, "It moves the right way."]
    overall_gain: Annotated[float, "Product of the stages."]


@rule(
    "cables.sense_check",
    title="Sense from pilot to surface",
    purpose="Whether the pilot's motion moves the trailing edge the way it is meant.",
    source="Kinematics; the convention of pedals and stick.",
    validity="Small movements about neutral.",
    caution=CAUTION,
)
def sense_check(
    control: Annotated[
        str, "Which control.", OneOf(("rudder", "elevator", "right aileron", "left aileron"))
    ],
    pilot_motion: Annotated[str, "What the pilot does, as the rule names it."],
    gains: Annotated[Sequence[float], "Signed ratios of the stages."],
    surface_axis: Annotated[Sequence[float], "Axis of the surface."],
    hinge_point: Annotated[Sequence[float], "A point of the hinge line."],
    trailing_edge: Annotated[Sequence[float], "A point of the trailing edge."],
) -> Sense:
    """The product of signed stage ratios moves the trailing edge; right, or up, as meant.

    Refuses unknown controls, another motion than the one named, a stage that passes nothing,
    an edge on the hinge line, and a movement that is not along the judged direction.
    """
    choice(control, tuple(MEANT), "control")
    motion, along, sign = MEANT[control]
    if pilot_motion != motion:
        raise Refused("pilot_motion", f"for {control} state the gains for '{motion}'")
    if not gains:
        raise Refused("gains", "needs at least one stage")
    overall = math.prod(finite(g, f"gains.{i}") for i, g in enumerate(gains))
    if overall == 0:
        raise Refused("gains", "a stage passes no motion")
    axis = unit(surface_axis, "surface_axis")
    hinge, edge = vec(hinge_point, "hinge_point"), vec(trailing_edge, "trailing_edge")
    r = minus(edge, hinge)
    moved = cross(axis, r)
    if float(size(moved)) < 1e-9 * max(1.0, math.sqrt(dot(r, r))):
        raise Refused("trailing_edge", "lies on the hinge line")
    share = moved[along] / float(size(moved)) * math.copysign(1.0, overall)
    if abs(share) < LEAST_ALONG:
        raise Refused("surface_axis", "hardly moves the edge along the judged direction")
    return Sense(share * sign > 0, overall)
