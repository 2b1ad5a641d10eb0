"""What cables do to the brackets of their pulleys: `cables.pulley_force`, `cables.bracket_load`."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

from core.basis.forms import Unit
from core.basis.refused import Refused, not_negative, positive
from core.basis.rules import rule
from core.basis.vectors import Vec, cross, minus, unit, vec
from core.cables.words import CAUTION


@dataclass(frozen=True)
class Force:
    """A force, N, and its magnitude."""

    force_N: Annotated[Vec, "Force at mid-span."]
    magnitude_N: Annotated[float, "Of the force."]


@rule(
    "cables.pulley_force",
    title="Force on a pulley",
    purpose="What the cable does to the pulley and its bracket.",
    source="Statics.",
    validity="Directions both in the running direction.",
    caution=CAUTION,
)
def pulley_force(
    tension_in_N: Annotated[float, "Before the pulley."],
    tension_out_N: Annotated[float, "After the pulley."],
    d_in: Annotated[Sequence[float], "Running direction before."],
    d_out: Annotated[Sequence[float], "Running direction after."],
) -> Force:
    """Force of the cable on a pulley, N: T_out d_out - T_in d_in, running direction."""
    t_in = not_negative(tension_in_N, "tension_in_N")
    t_out = not_negative(tension_out_N, "tension_out_N")
    a, b = unit(d_in, "d_in"), unit(d_out, "d_out")
    f = (t_out * b[0] - t_in * a[0], t_out * b[1] - t_in * a[1], t_out * b[2] - t_in * a[2])
    return Force(f, math.hypot(*f))


@dataclass(frozen=True)
class Load:
    """A force, N, at a point, m."""

    force_N: Vec
    point: Vec


@dataclass(frozen=True)
class Bracket:
    """Sum of the forces, N, their moment, N·m, and the margin (None without a force)."""

    force_N: Annotated[Vec, "Force at mid-span."]
    magnitude_N: Annotated[float, "Of the force."]
    moment_Nm: Annotated[Vec, "About the point."]
    margin: Annotated[float | None, "Allowable over force, less one."]


@rule(
    "cables.bracket_load",
    title="Load on a bracket",
    purpose="Sum and moment of the forces of several pulleys, and the margin.",
    source="Statics; pilot effort after the maker or 14 CFR 23.397 (entered by the user).",
    validity="Use the highest of hot rigged tension, full travel, pilot effort.",
    caution=CAUTION,
)
def bracket_load(
    loads: Annotated[Sequence[Load], "{force_N, point}."],
    about: Annotated[Sequence[float], "Point for the moment.", Unit("m")],
    allowable_N: Annotated[float, "What the bracket may carry."],
) -> Bracket:
    """The load of a bracket that carries several pulleys, and allowable/|F| - 1.

    Use the highest of: rigged tension at the hottest, loop tension at full travel, the cable
    load from the pilot effort that the maker or 14 CFR 23.397 asks.
    """
    if not loads:
        raise Refused("loads", "needs at least one")
    centre = vec(about, "about")
    allow = positive(allowable_N, "allowable_N")
    force, moment = [0.0] * 3, [0.0] * 3
    for i, load in enumerate(loads):
        f, p = vec(load.force_N, f"loads.{i}.force_N"), vec(load.point, f"loads.{i}.point")
        turned = cross(minus(p, centre), f)
        force = [a + b for a, b in zip(force, f, strict=True)]
        moment = [a + b for a, b in zip(moment, turned, strict=True)]
    size = math.hypot(*force)
    f3 = (force[0], force[1], force[2])
    return Bracket(
        f3, size, (moment[0], moment[1], moment[2]), allow / size - 1.0 if size else None
    )
