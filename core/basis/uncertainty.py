"""Uncertainty of a measured value, after JCGM 100:2008 (annex G for the coverage factor).

Contributions are standard uncertainties in one unit, each with its degrees of freedom;
`combine` adds them in quadrature and finds the expanded uncertainty at 95.45 %.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Annotated

from scipy.special import stdtrit

from core.basis.forms import Bound

# The share of a normal distribution within two standard deviations, so that k = 2
# when the degrees of freedom are infinite.
COVERAGE = math.erf(math.sqrt(2.0))


@dataclass(frozen=True)
class Contribution:
    """One standard uncertainty `u`, with `nu` degrees of freedom (None: infinite)."""

    u: Annotated[float, "Standard uncertainty.", Bound(at_least=0)]
    nu: Annotated[float | None, "Degrees of freedom; null: infinite."] = None
    name: Annotated[str, "What it comes from."] = ""


@dataclass(frozen=True)
class Combined:
    """Combined standard uncertainty, effective freedom (None: infinite), k and U = k u."""

    u: float
    nu_eff: float | None
    k: float
    U: float


def rectangular(half_width: float) -> float:
    """Standard uncertainty of an error bounded by ± half_width: a / √3."""
    return half_width / math.sqrt(3.0)


def of_resolution(step: float) -> float:
    """Standard uncertainty of reading to one full step: r / √12."""
    return step / math.sqrt(12.0)


def sample_deviation(values: Sequence[float]) -> float | None:
    """Sample standard deviation (n - 1), None for fewer than two values."""
    n = len(values)
    if n < 2:
        return None
    mean = math.fsum(values) / n
    return math.sqrt(math.fsum((v - mean) ** 2 for v in values) / (n - 1))


def of_repeats(values: Sequence[float], name: str = "repeats") -> Contribution | None:
    """Contribution of repeated readings to their mean, None for a single one."""
    s = sample_deviation(values)
    if s is None:
        return None
    return Contribution(s / math.sqrt(len(values)), len(values) - 1, name)


def combine(parts: Iterable[Contribution]) -> Combined:
    """Quadrature sum, Welch-Satterthwaite freedom, Student k at 95.45 %, U = k u."""
    kept = [p for p in parts if p.u > 0]
    u = math.hypot(*(p.u for p in kept)) if kept else 0.0
    # Shares of u rather than fourth powers of it: very small uncertainties stay exact.
    slack = math.fsum((p.u / u) ** 4 / p.nu for p in kept if p.nu is not None) if u else 0.0
    nu_eff = 1.0 / slack if slack > 0 else None
    k = coverage_factor(nu_eff)
    return Combined(u, nu_eff, k, k * u)


def coverage_factor(nu: float | None) -> float:
    """Student's t for 95.44997 % two-sided; 2 for infinite freedom (None)."""
    return 2.0 if nu is None else _student(nu)


@lru_cache(maxsize=4096)
def _student(nu: float) -> float:
    return float(stdtrit(nu, 0.5 + COVERAGE / 2.0))
