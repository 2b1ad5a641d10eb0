"""Do documents agree? Pairs of statements on one quantity (`signoff.compare_sources`)."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import combinations
from statistics import median

from core.basis.refused import Refused, choice, finite, not_negative

_SLACK = 1e-12


@dataclass(frozen=True)
class Statement:
    """What one document says: limits in SI, the unit as printed, its last digit in SI.

    A count has `lo` equal to `hi`.
    """

    source: str
    kind: str
    lo: float
    hi: float
    unit: str = ""
    resolution: float = 0.0


@dataclass(frozen=True)
class Pair:
    """How two statements relate; `both` is their common part, None if they have none."""

    a: str
    b: str
    result: str
    both: tuple[float, float] | None


def compare_sources(statements: Sequence[Statement]) -> tuple[Pair, ...]:
    """Every pair: agree, narrower, overlap, disjoint; counts agree or conflict.

    The same unit is compared exactly; different units within half the sum of their last
    digits (rounding in conversion). Refuses fewer than two statements, mixed kinds, and
    limits the wrong way round.
    """
    if len(statements) < 2:
        raise Refused("statements", "needs at least two")
    for s in statements:
        choice(s.kind, ("range", "count"), f"statements.{s.source}")
        not_negative(s.resolution, f"statements.{s.source}")
        if finite(s.lo, f"statements.{s.source}") > finite(s.hi, f"statements.{s.source}"):
            raise Refused(f"statements.{s.source}", "lower limit above upper limit")
    if len({s.kind for s in statements}) > 1:
        raise Refused("statements", "a range and a count cannot be compared")
    return tuple(_pair(a, b) for a, b in combinations(statements, 2))


def _pair(a: Statement, b: Statement) -> Pair:
    low, high = max(a.lo, b.lo), min(a.hi, b.hi)
    tol = _SLACK if a.unit == b.unit else (a.resolution + b.resolution) / 2.0
    both = None if low > high + _SLACK else (low, max(low, high))
    if a.kind == "count":
        return Pair(a.source, b.source, "agree" if a.lo == b.lo else "conflict", both)
    if abs(a.lo - b.lo) <= tol and abs(a.hi - b.hi) <= tol:
        result = "agree"
    elif both is None:
        result = "disjoint"
    elif _inside(a, b, tol) or _inside(b, a, tol):
        result = "narrower"
    else:
        result = "overlap"
    return Pair(a.source, b.source, result, both)


def _inside(inner: Statement, outer: Statement, tol: float) -> bool:
    return inner.lo >= outer.lo - tol and inner.hi <= outer.hi + tol


@dataclass(frozen=True)
class Width:
    """A tolerance much wider than its neighbours: how many times their median."""

    name: str
    ratio: float


def questioned(widths: Mapping[str, float], factor: float = 3.0) -> tuple[Width, ...]:
    """Tolerances over `factor` times the median of the others: perhaps a misprint.

    widths: high less low of like requirements, one unit. Needs three of them at least; says
    nothing where the others have no width. Refuses a negative width, a factor not over 1.
    """
    if finite(factor, "factor") <= 1:
        raise Refused("factor", "must be greater than 1")
    found = []
    for name, width in widths.items():
        not_negative(width, f"widths.{name}")
        others = [w for n, w in widths.items() if n != name]
        middle = median(others) if len(others) >= 2 else 0.0
        if middle > 0 and width > factor * middle * (1.0 + _SLACK):
            found.append(Width(name, width / middle))
    return tuple(found)
