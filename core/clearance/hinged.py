"""Doors, hatches and canopies through their opening (`clearance.hinged_sweep`)."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

import numpy as np

from core.basis.forms import Unit
from core.basis.refused import Refused, finite, not_negative, positive
from core.basis.rules import rule
from core.clearance.distance import Array, BoxIn
from core.clearance.motion import Body, MovingIn, RotateIn, StepIn, body_of
from core.clearance.search import Pairs, pairs_of, searched
from core.clearance.words import CAUTION

# A step this small cannot be told from none, rad.
STILL_RAD, MOST_STEPS, AT_ONCE = 1e-10, 20_000, 32
FULL_TURN = 2.0 * math.pi


@dataclass(frozen=True)
class HingeIn:
    """A hinge; opening positive, right-handed."""

    origin: Annotated[Sequence[float], "A point of it, m."]
    axis: Annotated[Sequence[float], "Its direction."]


@dataclass(frozen=True)
class BodyIn:
    """What opens: its edges as one line, or a box; in the pose of angle 0."""

    points: Annotated[Sequence[Sequence[float]] | None, "Its edges, m."] = None
    radius: Annotated[float, "Of them.", Unit("m")] = 0.0
    box: Annotated[BoxIn | None, "Instead: centre, half, axes."] = None


@dataclass(frozen=True)
class ObstacleIn:
    """What stands in its way: a line or a box."""

    id: Annotated[str, "What it is called."]
    points: Annotated[Sequence[Sequence[float]] | None, "Corners, m."] = None
    radius: Annotated[float, "Of it.", Unit("m")] = 0.0
    box: Annotated[BoxIn | None, "Instead: centre, half, axes."] = None


@dataclass(frozen=True)
class Met:
    """How near it comes to one of them."""

    least: Annotated[float, "Attained.", Unit("m")]
    not_below: Annotated[float, "Certified.", Unit("m")]
    at_rad: Annotated[float, "Opened that far."]


@dataclass(frozen=True)
class Nearest:
    """The nearest of all."""

    obstacle: Annotated[str, "Which."]
    gap_m: Annotated[float, "How near."]
    at_rad: Annotated[float, "Opened that far."]


@dataclass(frozen=True)
class Swept:
    """A hinged body through its opening."""

    obstacles: Annotated[dict[str, Met], "Each of them."]
    least: Annotated[Nearest, "Of all."]
    keeps_rule: Annotated[bool, "Whether it keeps its distance all the way."]
    largest_angle_rad: Annotated[
        float | None, "It may open that far; null: not even the beginning."
    ]


@rule(
    "clearance.hinged_sweep",
    title="A door through its opening",
    purpose="What does a door, hatch or canopy meet, and how far may it open?",
    source="Branch and bound over the angle; steps of (gap − rule) / L cannot pass the first"
    " crossing.",
    validity="A rigid body on a straight hinge. Leave out the stretch at the hinge itself.",
    caution=CAUTION,
)
def hinged_sweep(
    body: Annotated[BodyIn, "points and radius, or box."],
    hinge: Annotated[HingeIn, "origin, axis."],
    obstacles: Annotated[tuple[ObstacleIn, ...], "id; points and radius, or box."],
    hi_rad: Annotated[float, "Opened so far."],
    rule_m: Annotated[float, "Least distance."],
    lo_rad: Annotated[float, "From here."] = 0.0,
    tol: Annotated[float, "How sure the least must be.", Unit("m")] = 1e-6,
) -> Swept:
    """Least gap to each. Refuses a range of none (`hi_rad`), no obstacle, two of one id, two
    boxes."""
    if finite(hi_rad, "hi_rad") <= finite(lo_rad, "lo_rad"):
        raise Refused("hi_rad", "must be greater than lo_rad")
    if max(abs(hi_rad), abs(lo_rad)) > FULL_TURN:
        raise Refused("hi_rad", "is more than a full turn")
    least, sure = not_negative(rule_m, "rule_m"), positive(tol, "tol")
    if not obstacles:
        raise Refused("obstacles", "needs at least one")
    turn = StepIn(0, rotate=RotateIn(hinge.origin, hinge.axis, 1.0))
    try:
        opens = body_of(MovingIn(body.points, body.radius, (turn,), body.box), "body", 1)
    except Refused as refusal:
        at = refusal.field.replace("body.steps[0].rotate.", "hinge.")
        raise Refused(at, refusal.reason) from None
    stand: dict[str, Body] = {}
    for o in obstacles:
        at = f"obstacles.{o.id}"
        if o.id in stand:
            raise Refused(f"{at}.id", "is there twice")
        if body.box is not None and o.box is not None:
            raise Refused(f"{at}.box", "both are boxes: give one as its edges")
        stand[o.id] = body_of(MovingIn(o.points, o.radius, (), o.box), at, 1)
    lo, hi = np.array([lo_rad]), np.array([hi_rad])
    met = {}
    for name, other in stand.items():
        found, _, _, at_q = searched(opens, other, lo, hi, sure)
        met[name] = Met(found.least, found.not_below, float(at_q[0]))
    name = min(met, key=lambda n: met[n].least)
    keeps = all(m.not_below >= least - sure for m in met.values())
    angles = [_opens(opens, other, lo_rad, hi_rad, least) for other in stand.values()]
    largest = None if None in angles else min(a for a in angles if a is not None)
    nearest = Nearest(name, met[name].least, met[name].at_rad)
    return Swept(met, nearest, keeps, largest)


def _opens(opens: Body, other: Body, lo: float, hi: float, least: float) -> float | None:
    """The greatest angle up to which every gap keeps its distance."""
    greatest = np.array([max(abs(lo), abs(hi))])
    first, second = (other, opens) if opens.box is not None else (opens, other)
    pairs: Pairs = pairs_of(first, second, greatest)
    every, at = np.arange(pairs.count), lo
    speed = np.maximum(pairs.L[:, 0], 1e-12)

    def free(angles: Array) -> Array:
        """How far on from each angle nothing can come under the rule; below 0: it is under."""
        q = np.repeat(angles, pairs.count)[:, None]
        spare = pairs.gap(np.tile(every, len(angles)), q).reshape(len(angles), -1) - least
        step: Array = (spare / speed).min(axis=1)
        return step

    step = float(free(np.array([at]))[0])
    if step < 0.0:
        return None
    for _ in range(MOST_STEPS):
        if step < STILL_RAD or at >= hi:
            break
        # Many steps of the first one's length at once, as far as each covers the next.
        ahead = np.minimum(at + step * np.arange(1, AT_ONCE + 1), hi)
        cover = free(ahead)
        short = np.flatnonzero(cover < step)
        n = int(short[0]) if len(short) else AT_ONCE - 1
        at, step = float(ahead[n]), max(0.0, float(cover[n]))
    return min(at, hi)
