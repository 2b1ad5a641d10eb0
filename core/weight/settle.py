"""When the reading of a scale has settled (`weight.settle`)."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import Annotated, Literal

from core.basis.forms import ABSENT
from core.basis.refused import Refused, finite, not_negative, positive
from core.basis.uncertainty import of_resolution, sample_deviation
from core.weight.words import GUM, Slope, rule

Reason = Literal["short", "few", "gap", "noise", "drift"]
SLACK_S = 1e-9


@dataclass(frozen=True)
class Settled:
    """A value that may be taken, or why none may."""

    settled: Annotated[bool, "Whether a window passed."]
    reason: Annotated[Reason | None, "Why none did, at the last sample.", ABSENT] = None
    t_settled_s: Annotated[float | None, "End of the first window that passed.", ABSENT] = None
    value_kg: Annotated[float | None, "Its mean.", ABSENT] = None
    u_kg: Annotated[float | None, "Standard uncertainty of it.", ABSENT] = None
    n: Annotated[int | None, "Samples in it.", ABSENT] = None
    drift_kg_per_s: Annotated[Slope | None, "Slope in it.", ABSENT] = None
    creep_kg: Annotated[float | None, "Mean of the last window less the value."] = None
    creeping: Annotated[bool | None, "Whether that exceeds the limit: capture again."] = None


@dataclass(frozen=True)
class Limits:
    """What a window must keep."""

    window_s: float
    min_samples: int
    max_gap_s: float
    range_kg: float
    drift_kg_per_s: float


@rule(
    "weight.settle",
    title="Has the scale settled?",
    purpose="The first reading of a scale that may be taken, and whether it creeps afterwards.",
    source=GUM,
    validity="Samples of one scale with the same load. A lost connection is a gap.",
)
def settle(
    t_s: Annotated[tuple[float, ...], "Of each sample, rising."],
    kg: Annotated[tuple[float, ...], "What it showed."],
    range_kg: Annotated[float, "Most between least and greatest in a window."],
    drift_kg_per_s: Annotated[Slope, "Most that it may drift."],
    window_s: Annotated[float, "How long a window is."] = 5.0,
    min_samples: Annotated[int, "In a window; at least 2."] = 10,
    max_gap_s: Annotated[float, "Longest between two samples."] = 1.0,
    resolution_kg: Annotated[float, "Of the display."] = 0.0,
    creep_kg: Annotated[float | None, "Most that it may creep afterwards."] = None,
) -> Settled:
    """Refuses lengths that differ, under two samples, times that do not rise, and limits that are
    not above zero."""
    if len(t_s) != len(kg):
        raise Refused("kg", "needs as many values as there are times")
    if len(t_s) < 2:
        raise Refused("t_s", "needs at least two samples")
    for n, (t, v) in enumerate(zip(t_s, kg, strict=True)):
        finite(t, f"t_s.{n}")
        finite(v, f"kg.{n}")
        if n and t <= t_s[n - 1]:
            raise Refused(f"t_s.{n}", "must be later than the one before")
    if min_samples < 2:
        raise Refused("min_samples", "must be at least 2")
    limits = Limits(
        positive(window_s, "window_s"), min_samples, positive(max_gap_s, "max_gap_s"),
        positive(range_kg, "range_kg"), positive(drift_kg_per_s, "drift_kg_per_s"),
    )  # fmt: skip
    resolution = not_negative(resolution_kg, "resolution_kg")
    reason: Reason | None = None
    first = 0
    for k in range(len(t_s)):
        while t_s[first] < t_s[k] - limits.window_s - SLACK_S:
            first += 1
        times, values = t_s[first : k + 1], kg[first : k + 1]
        reason = _why_not(t_s[0], times, values, limits)
        if reason is None:
            s = sample_deviation(values) or 0.0
            mean = sum(values) / len(values)
            u = (s**2 / len(values) + of_resolution(resolution) ** 2) ** 0.5
            creep = _creep(t_s, kg, limits, mean)
            over = None
            if creep_kg is not None:
                over = None if creep is None else abs(creep) > positive(creep_kg, "creep_kg")
            return Settled(
                True, None, t_s[k], mean, u, len(values), _slope(times, values), creep, over
            )
    return Settled(False, reason)


def _why_not(
    start: float, times: Sequence[float], values: Sequence[float], limits: Limits
) -> Reason | None:
    """Why a window does not pass, by the first test that it fails."""
    lacking = _lacking(start, times, limits)
    if lacking:
        return lacking
    slope = _slope(times, values)
    drifts = abs(slope) > limits.drift_kg_per_s
    if max(values) - min(values) > limits.range_kg:
        return "drift" if drifts else "noise"
    return "drift" if drifts else None


def _lacking(start: float, times: Sequence[float], limits: Limits) -> Reason | None:
    if times[-1] - start < limits.window_s - SLACK_S:
        return "short"
    if len(times) < limits.min_samples:
        return "few"
    if any(b - a > limits.max_gap_s for a, b in pairwise(times)):
        return "gap"
    return None


def _creep(t_s: Sequence[float], kg: Sequence[float], limits: Limits, value: float) -> float | None:
    """Mean of the last window less the value; None where that window has no full data."""
    from_ = t_s[-1] - limits.window_s - SLACK_S
    last = [(t, v) for t, v in zip(t_s, kg, strict=True) if t >= from_]
    if _lacking(t_s[0], [t for t, _ in last], limits):
        return None
    return sum(v for _, v in last) / len(last) - value


def _slope(times: Sequence[float], values: Sequence[float]) -> float:
    """Of the least-squares line."""
    n = len(times)
    t, v = sum(times) / n, sum(values) / n
    above = sum((a - t) * (b - v) for a, b in zip(times, values, strict=True))
    return above / sum((a - t) ** 2 for a in times)
