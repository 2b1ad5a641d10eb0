"""What cables do to the brackets of their pulleys: `cables.pulley_force`, `cables.bracket_load`."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from core.basis.refused import Refused, not_negative, positive
from core.cables.path import Vec, cross, minus, unit, vec


@dataclass(frozen=True)
class Force:
    """A force, N, and its magnitude."""

    force_N: Vec
    magnitude_N: float


def pulley_force(
    tension_in_N: float, tension_out_N: float, d_in: Sequence[float], d_out: Sequence[float]
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

    force_N: Vec
    magnitude_N: float
    moment_Nm: Vec
    margin: float | None


def bracket_load(loads: Sequence[Load], about: Sequence[float], allowable_N: float) -> Bracket:
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
