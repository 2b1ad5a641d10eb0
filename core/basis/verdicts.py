"""Verdicts: one set of words for every rule, one comparison, one order of severity.

The comparison is the guarded acceptance of JCGM 106:2012, 8.3: a value is in only when it
lies inside the limits by its whole expanded uncertainty, and out only when it lies outside
by as much.
"""

from __future__ import annotations

from collections.abc import Iterable
from enum import StrEnum

from core.basis.refused import Refused, finite, not_negative

SLACK = 1e-9


class Verdict(StrEnum):
    """What can be said of a value against its requirement."""

    IN = "in"
    OUT = "out"
    TOO_CLOSE = "too close"
    NOT_MEASURED = "not measured"
    STALE = "stale"
    ACCEPTED = "accepted"


# Worst first.
SEVERITY = (
    Verdict.OUT,
    Verdict.STALE,
    Verdict.TOO_CLOSE,
    Verdict.NOT_MEASURED,
    Verdict.ACCEPTED,
    Verdict.IN,
)

# Words that rules use beside the enum, and what they mean in it.
WORDS: dict[str, Verdict] = {
    **{v.value: v for v in Verdict},
    "clear": Verdict.IN,
    "touch": Verdict.OUT,
    "ready": Verdict.IN,
    "blocked": Verdict.OUT,
    "conflict open": Verdict.TOO_CLOSE,
    "not judged": Verdict.NOT_MEASURED,
    "deviation": Verdict.ACCEPTED,
    "expired": Verdict.OUT,
}


def verdict_of(word: str) -> Verdict:
    """The verdict that a rule's own word stands for. Refuses a word it does not know."""
    try:
        return WORDS[word]
    except KeyError:
        raise Refused("verdict", f"no verdict is called {word!r}") from None


def worst(verdicts: Iterable[Verdict]) -> Verdict:
    """The most severe of several; `not measured` of none."""
    found = set(verdicts)
    return next((v for v in SEVERITY if v in found), Verdict.NOT_MEASURED)


def limits(lo: float | None, hi: float | None, field: str = "lo") -> None:
    """Refuses limits that are both open, not finite, or the wrong way round."""
    if lo is None and hi is None:
        raise Refused(field, "a requirement needs a low or a high limit")
    for name, limit in (("lo", lo), ("hi", hi)):
        if limit is not None:
            finite(limit, name)
    if lo is not None and hi is not None and lo > hi:
        raise Refused(field, "the low limit is above the high limit")


def judge(value: float, U: float, lo: float | None, hi: float | None) -> Verdict:
    """In, out or too close: `value` with expanded uncertainty `U` against [lo, hi].

    All four in one and the same unit; either limit may be None (open), not both.
    Refuses limits the wrong way round and a negative U. Source: JCGM 106:2012, 8.3.
    """
    limits(lo, hi)
    finite(value, "value")
    not_negative(U, "U")
    low, high = _open(lo, hi)
    slack = SLACK * max(1.0, abs(value), *(abs(x) for x in (lo, hi) if x is not None))
    if low + U - slack <= value <= high - U + slack:
        return Verdict.IN
    if value < low - U - slack or value > high + U + slack:
        return Verdict.OUT
    return Verdict.TOO_CLOSE


def margin(value: float, lo: float | None, hi: float | None) -> float:
    """Least signed distance to a limit, negative outside; same unit as the value."""
    low, high = _open(lo, hi)
    return min(value - low, high - value)


def _open(lo: float | None, hi: float | None) -> tuple[float, float]:
    return (-float("inf") if lo is None else lo, float("inf") if hi is None else hi)
