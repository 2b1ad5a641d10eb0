"""The aircraft weighed again with the scales changed about (`weight.swap_test`).

A scale's factor and offset are one quantity in both weighings, and so are the arms: what is
common cancels in the difference, and what is left must lie within its uncertainty.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Annotated

import numpy as np

from core.basis.propagation import Uncertain, known, total
from core.basis.refused import Refused, finite, not_negative, positive
from core.weight.words import GUM, MassFraction, rule


@dataclass(frozen=True)
class Calibration:
    """A scale as calibrated."""

    factor: Annotated[MassFraction, "True over indicated."] = 1.0
    offset_kg: Annotated[float, "Error that is left at zero."] = 0.0
    u_factor: Annotated[MassFraction, "Standard uncertainty of the factor."] = 0.0
    u_offset_kg: Annotated[float, "Of the offset."] = 0.0


@dataclass(frozen=True)
class WheelAt:
    """A wheel and its arm."""

    wheel: Annotated[str, "Which."]
    x_m: Annotated[float, "Arm of its contact point."]
    u_x_m: Annotated[float, "Standard uncertainty of it."] = 0.0


@dataclass(frozen=True)
class Placed:
    """A wheel on a scale in one weighing."""

    wheel: Annotated[str, "Which wheel."]
    scale: Annotated[str, "On which scale."]
    gross_kg: Annotated[float, "What it shows."]
    tare_kg: Annotated[float, "Chocks and ramps."] = 0.0
    u_gross_kg: Annotated[float, "Repeatability and resolution only."] = 0.0
    u_tare_kg: Annotated[float, "Of the tare."] = 0.0


@dataclass(frozen=True)
class Compared:
    """A later weighing against the first."""

    mass_difference_kg: Annotated[float, "Later less first."]
    En_mass: Annotated[float | None, "|difference| over its U; null where U is 0."]
    x_difference_m: Annotated[float, "Later less first."]
    En_x: Annotated[float | None, "Of the arm."]
    En_wheel: Annotated[dict[str, float | None], "Of each wheel's load."]
    consistent: Annotated[bool, "Whether none is above 1."]
    suspect_wheel: Annotated[str | None, "Of the greatest, where not consistent."]


@dataclass(frozen=True)
class Swapped:
    """All weighings."""

    mass_kg: Annotated[tuple[float, ...], "Of each weighing."]
    x_m: Annotated[tuple[float, ...], "Of each weighing."]
    compare: Annotated[tuple[Compared, ...], "Each later one with the first."]
    consistent: Annotated[bool, "Whether all agree."]
    relative_factor: Annotated[
        dict[str, float] | None, "By which to multiply each scale, relative to their mean."
    ]
    suspect_scale: Annotated[str | None, "Whose factor is farthest from 1, where not consistent."]


@rule(
    "weight.swap_test",
    title="Weighed again with the scales changed about",
    purpose="Do two weighings agree, and which scale is to be doubted?",
    source=f"E_n as in ISO/IEC 17043. {GUM}",
    validity="Loads and arms unchanged between the weighings. It says nothing about an error that"
    " all scales share: for that, load a known mass.",
)
def swap_test(
    scales: Annotated[dict[str, Calibration], "By their names."],
    wheels: Annotated[tuple[WheelAt, ...], "At least three."],
    weighings: Annotated[tuple[tuple[Placed, ...], ...], "Two or more, each with every wheel."],
) -> Swapped:
    """kg, m. Refuses one weighing, under three wheels, a wheel missing or twice, a scale under
    two wheels or unknown, a net not above zero, and scales of which none was moved."""
    _refuse(scales, wheels, weighings)
    loads = [_loads(scales, w, n) for n, w in enumerate(weighings)]
    masses = [total(list(x.values())) for x in loads]
    arms = {w.wheel: known(f"arm {w.wheel}", w.x_m, w.u_x_m) for w in wheels}
    at = [
        total([m * arms[w] for w, m in x.items()]) / mass
        for x, mass in zip(loads, masses, strict=True)
    ]
    compare = tuple(
        _compared(loads[0], loads[n], masses[n] - masses[0], at[n] - at[0])
        for n in range(1, len(weighings))
    )
    agree = all(c.consistent for c in compare)
    factors = _factors([w.wheel for w in wheels], weighings, loads)
    suspect = None
    if factors and not agree:
        suspect = max(factors, key=lambda s: abs(factors[s] - 1.0))
    return Swapped(
        tuple(m.value for m in masses), tuple(x.value for x in at), compare, agree, factors,
        suspect,
    )  # fmt: skip


def _refuse(
    scales: Mapping[str, Calibration],
    wheels: Sequence[WheelAt],
    weighings: Sequence[Sequence[Placed]],
) -> None:
    if len(wheels) < 3:
        raise Refused("wheels", "at least three wheels are needed")
    names = [w.wheel for w in wheels]
    if len(set(names)) < len(names):
        raise Refused("wheels", "a wheel is named twice")
    for n, w in enumerate(wheels):
        finite(w.x_m, f"wheels.{n}.x_m")
        not_negative(w.u_x_m, f"wheels.{n}.u_x_m")
    for name, s in scales.items():
        positive(s.factor, f"scales.{name}.factor")
        finite(s.offset_kg, f"scales.{name}.offset_kg")
        not_negative(s.u_factor, f"scales.{name}.u_factor")
        not_negative(s.u_offset_kg, f"scales.{name}.u_offset_kg")
    if len(weighings) < 2:
        raise Refused("weighings", "weigh at least twice")
    for n, placed in enumerate(weighings):
        on = [p.wheel for p in placed]
        for name in names:
            if on.count(name) != 1:
                said = "is missing" if name not in on else "is there twice"
                raise Refused(f"weighings.{n}", f"the {name} wheel {said}")
        for p in placed:
            if p.wheel not in names:
                raise Refused(f"weighings.{n}", f"{p.wheel} is not one of the wheels")
            if p.scale not in scales:
                raise Refused(f"weighings.{n}", f"there is no scale {p.scale}")
            if sum(q.scale == p.scale for q in placed) > 1:
                raise Refused(f"weighings.{n}", f"scale {p.scale} stands under two wheels")
    first = {p.wheel: p.scale for p in weighings[0]}
    if all({p.wheel: p.scale for p in w} == first for w in weighings):
        raise Refused("weighings", "no scale was moved: this shows repeatability only")


def _loads(
    scales: Mapping[str, Calibration], placed: Sequence[Placed], weighing: int
) -> dict[str, Uncertain]:
    found = {}
    for n, p in enumerate(placed):
        at, s = f"weighings.{weighing}.{n}", scales[p.scale]
        gross = known(f"reading {weighing} {p.wheel}", finite(p.gross_kg, f"{at}.gross_kg"),
                      not_negative(p.u_gross_kg, f"{at}.u_gross_kg"))  # fmt: skip
        tare = known(f"tare {weighing} {p.wheel}", not_negative(p.tare_kg, f"{at}.tare_kg"),
                     not_negative(p.u_tare_kg, f"{at}.u_tare_kg"))  # fmt: skip
        factor = known(f"factor {p.scale}", s.factor, s.u_factor)
        offset = known(f"offset {p.scale}", s.offset_kg, s.u_offset_kg)
        net = factor * (gross - tare) + offset
        if net.value <= 0.0:
            raise Refused(f"{at}.gross_kg", "net reading must be above 0")
        found[p.wheel] = net
    return found


def _compared(
    first: Mapping[str, Uncertain], later: Mapping[str, Uncertain], mass: Uncertain, x: Uncertain
) -> Compared:
    wheels = {w: _en(later[w] - first[w]) for w in first}
    every = [_en(mass), _en(x), *wheels.values()]
    agrees = all(e is not None and e <= 1.0 + 1e-9 for e in every)
    worst = max(wheels, key=lambda w: math.inf if wheels[w] is None else wheels[w] or 0.0)
    return Compared(
        mass.value, _en(mass), x.value, _en(x), wheels, agrees, None if agrees else worst
    )


def _en(d: Uncertain) -> float | None:
    """|d| over its U; 0 for no difference; None where nothing is uncertain but they differ."""
    # What rounding leaves of exact terms that cancel is nothing.
    if not math.isclose(d.U, 0.0, abs_tol=1e-12 * max(1.0, abs(d.value))):
        return abs(d.value) / d.U
    return 0.0 if abs(d.value) <= 1e-12 else None


def _factors(
    wheels: Sequence[str],
    weighings: Sequence[Sequence[Placed]],
    loads: Sequence[Mapping[str, Uncertain]],
) -> dict[str, float] | None:
    """ln(net) = ln(load) - ln(f) by least squares, with the factors' mean 1; None: not found."""
    scales = sorted({p.scale for w in weighings for p in w})
    rows, nets = [], []
    for placed, found in zip(weighings, loads, strict=True):
        for p in placed:
            row = [0.0] * (len(wheels) + len(scales))
            row[wheels.index(p.wheel)] = 1.0
            row[len(wheels) + scales.index(p.scale)] = -1.0
            rows.append(row)
            nets.append(math.log(found[p.wheel].value))
    rows.append([0.0] * len(wheels) + [1.0] * len(scales))
    nets.append(0.0)
    solved, _, rank, _ = np.linalg.lstsq(np.array(rows), np.array(nets), rcond=1e-9)
    if rank < len(wheels) + len(scales):
        return None
    return {s: math.exp(solved[len(wheels) + n]) for n, s in enumerate(scales)}
