"""Steps that a person can follow with a calculator, and how they are written."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from core.basis.uncertainty import Contribution, combine

DEGREE = "°"
Inputs = Mapping[str, Any]


@dataclass(frozen=True)
class Step:
    """What is worked out, how it is written on a calculator, and what comes out."""

    says: str
    worked: str
    value: float | None
    unit: str = ""


@dataclass(frozen=True)
class Share:
    """One contribution: standard uncertainty `u` in the answer's unit, and its share of u²."""

    name: str
    u: float
    share: float


@dataclass(frozen=True)
class Working:
    """Steps in their order, and what the uncertainty is made of, largest first."""

    steps: tuple[Step, ...]
    shares: tuple[Share, ...] = ()


def n(value: float) -> str:
    """A number as one types it into a calculator: six digits, a minus that can be read."""
    return f"{value:.6g}".replace("-", "−")


def total(values: Sequence[float]) -> str:
    """A sum as written."""
    text = " + ".join(n(v) if v >= 0 else f"({n(v)})" for v in values)
    return f"({text})" if len(values) > 1 else text


def mean_of(values: Sequence[float], what: str, unit: str) -> Step:
    """The step of a mean."""
    mean = math.fsum(values) / len(values)
    if len(values) == 1:
        return Step(f"{what}: one reading", n(mean), mean, unit)
    worked = f"{total(values)} / {len(values)}"
    return Step(f"Mean of {len(values)} {what}", worked, mean, unit)


def shares_of(parts: Sequence[Contribution]) -> tuple[Share, ...]:
    """Contributions with their shares of the whole, largest first; what is nothing is left out."""
    whole = math.fsum(p.u**2 for p in parts)
    found = [Share(p.name or "other", p.u, p.u**2 / whole) for p in parts if p.u > 0]
    return tuple(sorted(found, key=lambda s: -s.share))


def combined_steps(parts: Sequence[Contribution], unit: str) -> list[Step]:
    """Quadrature, coverage factor, expanded uncertainty."""
    kept = [p for p in parts if p.u > 0]
    c = combine(parts)
    if not kept:
        return [Step("Uncertainty: nothing is known that would make one", "0", 0.0, unit)]
    squares = " + ".join(f"{n(p.u)}²" for p in kept)
    known = "freedom is infinite" if c.nu_eff is None else f"{c.nu_eff:.0f} degrees of freedom"
    return [
        Step("All contributions together", f"√({squares})", c.u, unit),
        Step(f"Coverage factor at 95 %, {known}", "Student's t", c.k),
        Step("Uncertainty U", f"{n(c.k)} × {n(c.u)}", c.U, unit),
    ]


def compared(y: float, U: float, lo: float | None, hi: float | None, unit: str) -> list[Step]:
    """How far each limit is from the value, beside U."""
    steps = []
    for what, limit, room in (
        ("low", lo, None if lo is None else y - lo),
        ("high", hi, None if hi is None else hi - y),
    ):
        if limit is None or room is None:
            continue
        is_in = "at least U: inside by it" if room >= U else "less than U: too close to call by it"
        is_in = "outside by more than U" if room < -U else is_in
        first, second = (y, limit) if what == "low" else (limit, y)
        worked = f"{n(first)} − {n(second)}" if second >= 0 else f"{n(first)} + {n(-second)}"
        steps.append(Step(f"Room to the {what} limit, {is_in}", worked, room, unit))
    return steps
