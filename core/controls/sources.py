"""Documents that ask different travel of the same thing (`controls.sources`).

A range much wider than its neighbours is a hint of a misprint, never proof. The wider one
is never picked silently: until someone decides, the verdict is open unless all agree.
"""

from __future__ import annotations

import statistics
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

from core.basis import verdicts
from core.basis.forms import ABSENT, FLAT
from core.basis.refused import Refused, finite, not_negative, positive
from core.basis.rules import rule
from core.basis.verdicts import Verdict
from core.controls.words import METROLOGY

CONFLICT_OPEN = "conflict open"
ENOUGH_WIDTHS = 4


@dataclass(frozen=True)
class Range:
    """What one source asks; either limit may be None (open), not both. Any one unit."""

    source: Annotated[str, "The document."]
    lo: Annotated[float | None, "Low limit, or null."] = None
    hi: Annotated[float | None, "High limit, or null."] = None

    @property
    def width(self) -> float | None:
        """hi - lo, None if one-sided."""
        return None if self.lo is None or self.hi is None else self.hi - self.lo


@dataclass(frozen=True)
class Decision:
    """The source chosen, and why."""

    source: Annotated[str, "The document chosen."]
    reason: Annotated[str, "Why."] = ""


@dataclass(frozen=True)
class Plausibility:
    """Widths against the project's other requirements of the same kind."""

    median_width: Annotated[float, "Median of the other widths."]
    width_ratio: Annotated[tuple[float | None, ...], "Each range's width over the median."]
    implausible: Annotated[tuple[str, ...], "Sources much wider than the rest."]


@dataclass(frozen=True)
class Compared:
    """How the ranges lie to each other; `common` None if empty; verdict word if judged."""

    relation: Annotated[str, "same, apart, touch, inside or overlap."]
    common: Annotated[tuple[float | None, float | None] | None, "The common part, null if empty."]
    gap: Annotated[float, "Distance between them, 0 if they meet."]
    plausibility: Annotated[Plausibility | None, FLAT]
    verdicts: Annotated[tuple[Verdict, ...] | None, "The value judged by each source.", ABSENT] = (
        None
    )
    verdict: Annotated[
        str | None, "The chosen source's, the common one, or conflict open.", ABSENT
    ] = None


@rule(
    "controls.sources",
    title="Documents that ask different travel",
    purpose="How do the ranges lie to each other, and what can be said of a value meanwhile?",
    source="Comparison of closed ranges; " + METROLOGY,
    validity="A wide range is a hint of a misprint, never proof: ask the maker and record"
    " who answered.",
    caution="The wider range is never picked silently.",
)
def compare(
    ranges: Annotated[Sequence[Range], "{source, lo, hi}, two or more, one unit."],
    other_widths: Annotated[
        Sequence[float], "Widths of the project's other ranges of this kind."
    ] = (),
    factor: Annotated[float, "How much wider than the median is questioned (default 3)."] = 3.0,
    y: Annotated[float | None, "A measured value."] = None,
    U: Annotated[float, "Its expanded uncertainty."] = 0.0,
    decision: Annotated[Decision | None, "{source, reason}, once decided."] = None,
) -> Compared:
    """Compare the ranges and, with a value `y` ± `U`, judge it by each of them.

    Refuses fewer than two ranges, one with its limits the wrong way round (by index), a
    factor of 1 or less, and a decision without reason or for a source not given.
    """
    _check(ranges, other_widths, factor, decision)
    inf = float("inf")
    low = max(-inf if r.lo is None else r.lo for r in ranges)
    high = min(inf if r.hi is None else r.hi for r in ranges)
    relation = _relation(ranges, low, high)
    common = None if low > high else (_closed(low), _closed(high))
    judged, word = None, None
    if y is not None:
        finite(y, "y")
        not_negative(U, "U")
        judged = tuple(verdicts.judge(y, U, r.lo, r.hi) for r in ranges)
        word = _word(ranges, judged, decision)
    return Compared(
        relation,
        common,
        max(0.0, low - high),
        _plausibility(ranges, other_widths, factor),
        judged,
        word,
    )


def _closed(limit: float) -> float | None:
    return None if abs(limit) == float("inf") else limit


def _check(
    ranges: Sequence[Range],
    other_widths: Sequence[float],
    factor: float,
    decision: Decision | None,
) -> None:
    if len(ranges) < 2:
        raise Refused("ranges", "needs at least two sources")
    for i, r in enumerate(ranges):
        verdicts.limits(r.lo, r.hi, f"ranges.{i}")
    for width in other_widths:
        positive(width, "other_widths")
    if finite(factor, "factor") <= 1.0:
        raise Refused("factor", "must be greater than 1")
    if decision is not None:
        if decision.source not in [r.source for r in ranges]:
            raise Refused("decision.source", f"{decision.source!r} is not one of the sources")
        if not decision.reason.strip():
            raise Refused("decision.reason", "must say why this source was chosen")


def _relation(ranges: Sequence[Range], low: float, high: float) -> str:
    if all((r.lo, r.hi) == (ranges[0].lo, ranges[0].hi) for r in ranges):
        return "same"
    if low > high:
        return "apart"
    if low == high:
        return "touch"
    if any((r.lo, r.hi) == (_closed(low), _closed(high)) for r in ranges):
        return "inside"
    return "overlap"


def _plausibility(
    ranges: Sequence[Range], other_widths: Sequence[float], factor: float
) -> Plausibility | None:
    if len(other_widths) < ENOUGH_WIDTHS:
        return None
    median = statistics.median(other_widths)
    ratios = tuple(None if r.width is None else r.width / median for r in ranges)
    wide = tuple(
        r.source for r, x in zip(ranges, ratios, strict=True) if x is not None and x > factor
    )
    return Plausibility(median, ratios, wide)


def _word(ranges: Sequence[Range], judged: Sequence[Verdict], decision: Decision | None) -> str:
    if decision is not None:
        chosen = [r.source for r in ranges].index(decision.source)
        return judged[chosen].value
    return judged[0].value if len(set(judged)) == 1 else CONFLICT_OPEN
