"""A device tested over time against what it should do (`wiring.functional_test`)."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated, Literal

from core.basis.by_name import rule
from core.basis.refused import Refused, finite, not_negative, positive
from core.basis.verdicts import Verdict
from core.wiring.words import CAUTION, HOUSE

EDGE_S = 1e-9
WORST = (Verdict.OUT, Verdict.NOT_MEASURED, Verdict.TOO_CLOSE, Verdict.IN)


@dataclass(frozen=True)
class Window:
    """What is expected in a stretch of time."""

    name: Annotated[str, "What is expected."]
    from_s: Annotated[float, "From, after the trigger."]
    to_s: Annotated[float, "To."]
    rule: Annotated[Literal["every", "any", "last", "mean", "settles"], "Which samples must be in."]
    low: Annotated[float | None, "Least; one of the two may be open."] = None
    high: Annotated[float | None, "Greatest."] = None
    by_s: Annotated[float | None, "Settled by then."] = None


@dataclass(frozen=True)
class Seen:
    """A window as it was met."""

    name: Annotated[str, "Which."]
    verdict: Annotated[Verdict, "What the samples say."]
    first_out_s: Annotated[float | None, "Of every: the first that is out."] = None
    settled_s: Annotated[float | None, "Of settles: from when all are in."] = None


@dataclass(frozen=True)
class Tested:
    """A device over time."""

    windows: Annotated[tuple[Seen, ...], "In their order."]
    verdict: Annotated[Verdict, "The worst: out, not measured, too close, in."]


@rule(
    "wiring.functional_test",
    title="Does it do what it should?",
    purpose="Does a device answer over time as its maker says?",
    source="Guarded acceptance after JCGM 106. Windows are the maker's. " + HOUSE,
    validity="Time 0 is the trigger; a gap between samples is not measured.",
    caution=CAUTION,
)
def functional_test(
    t_s: Annotated[Sequence[float], "Times, rising."],
    value: Annotated[Sequence[float], "What was read."],
    max_gap_s: Annotated[float, "Greatest gap between samples."],
    windows: Annotated[tuple[Window, ...], "What is expected."],
    U: Annotated[float, "Of each reading."] = 0.0,
) -> Tested:
    """Refuses times that do not rise, unlike lengths, no window, none or reversed bounds."""
    times = [finite(t, "t_s") for t in t_s]
    values = [finite(v, "value") for v in value]
    if any(b <= a for a, b in itertools.pairwise(times)):
        raise Refused("t_s", "must rise")
    if len(times) != len(values):
        raise Refused("value", "needs one for each time")
    gap, u = positive(max_gap_s, "max_gap_s"), not_negative(U, "U")
    if not windows:
        raise Refused("windows", "nothing is expected")
    found = tuple(_window(_checked(w), times, values, gap, u) for w in windows)
    kinds = {w.verdict for w in found}
    return Tested(found, next(v for v in WORST if v in kinds))


def _checked(w: Window) -> Window:
    if finite(w.to_s, "to_s") < finite(w.from_s, "from_s"):
        raise Refused("to_s", f"{w.name}: ends before it begins")
    if w.low is None and w.high is None:
        raise Refused("low", f"{w.name}: needs a low or a high bound")
    if w.low is not None and w.high is not None and w.low > w.high:
        raise Refused("low", f"{w.name}: is above the high bound")
    if w.rule == "settles" and w.by_s is None:
        raise Refused("by_s", f"{w.name}: is needed where it must settle")
    return w


def _window(
    w: Window, times: Sequence[float], values: Sequence[float], gap: float, U: float
) -> Seen:
    inside = [
        (t, v)
        for t, v in zip(times, values, strict=True)
        if w.from_s - EDGE_S <= t <= w.to_s + EDGE_S
    ]
    at = [t for t, _ in inside]
    covered = bool(at) and at[0] - w.from_s <= gap + EDGE_S and w.to_s - at[-1] <= gap + EDGE_S
    if not covered or any(b - a > gap + EDGE_S for a, b in itertools.pairwise(at)):
        return _seen(w, Verdict.NOT_MEASURED)
    each = [_one(v, w, U) for _, v in inside]
    if w.rule == "every":
        first = next((t for t, v in zip(at, each, strict=True) if v is Verdict.OUT), None)
        return _seen(w, next(v for v in WORST if v in each), first)
    if w.rule == "any":
        return _seen(w, next(v for v in reversed(WORST) if v in each))
    if w.rule == "settles":
        return _settles(w, at, each)
    judged = inside[-1][1] if w.rule == "last" else math.fsum(v for _, v in inside) / len(inside)
    return _seen(w, _one(judged, w, U))


def _seen(w: Window, verdict: Verdict, first_out: float | None = None) -> Seen:
    return Seen(w.name, verdict, first_out)


def _one(value: float, w: Window, U: float) -> Verdict:
    low = -math.inf if w.low is None else w.low
    high = math.inf if w.high is None else w.high
    if low + U <= value <= high - U:
        return Verdict.IN
    return Verdict.OUT if value < low - U or value > high + U else Verdict.TOO_CLOSE


def _settles(w: Window, at: Sequence[float], each: Sequence[Verdict]) -> Seen:
    """In from when all to the end are in; close where from some sample in time none is out."""
    settled = _from(at, each, (Verdict.IN,))
    by = (w.by_s or 0.0) + EDGE_S
    if settled is not None and settled <= by:
        return Seen(w.name, Verdict.IN, settled_s=settled)
    near = _from(at, each, (Verdict.IN, Verdict.TOO_CLOSE))
    verdict = Verdict.TOO_CLOSE if near is not None and near <= by else Verdict.OUT
    return Seen(w.name, verdict, settled_s=settled)


def _from(at: Sequence[float], each: Sequence[Verdict], good: Sequence[Verdict]) -> float | None:
    """The first time from which all are among these; None: not even the last."""
    found = None
    for t, v in zip(reversed(at), reversed(each), strict=True):
        if v not in good:
            break
        found = t
    return found
