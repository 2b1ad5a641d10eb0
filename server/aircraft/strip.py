"""What the lane shows of each bay."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TypedDict

from core.basis.verdicts import Verdict, worst
from core.signoff.closing import Concern


class BayStanding(TypedDict):
    """Worst verdict of a bay, what is behind it, and its loose ends."""

    verdict: str
    concerns: int
    open: int
    loose_ends: int


def standing(here: Sequence[Concern]) -> BayStanding:
    """One bay's standing from its concerns."""
    return BayStanding(
        verdict=worst(c.verdict for c in here).value,
        concerns=len(here),
        open=sum(c.verdict not in (Verdict.IN, Verdict.ACCEPTED) for c in here),
        loose_ends=sum(c.step == "loose end" for c in here),
    )
