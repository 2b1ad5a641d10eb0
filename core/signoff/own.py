"""What belongs to a closure alone: its tool count, its photo, its inspection, its reach."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import datetime

from core.basis.verdicts import Verdict

# What an arm still reaches, best first.
REACHES = ("now", "by opening", "lost", "never")
NO_ARM = "not measured: enter your arm under Airframe"


@dataclass(frozen=True)
class Counted:
    """A named tool or loose object: how many went in, how many came out."""

    name: str
    went_in: int
    came_out: int


def count_state(counted: Sequence[Counted]) -> str:
    """in, or what is still inside; not counted without a row."""
    if not counted:
        return "not counted"
    inside = [f"{t.name} ({t.went_in - t.came_out})" for t in counted if t.went_in != t.came_out]
    return f"inside: {', '.join(inside)}" if inside else "in"


def photo_state(taken: Iterable[datetime], worked: datetime | None) -> str:
    """present, missing, or older than the last work in the bay."""
    days = list(taken)
    if not days:
        return "missing"
    return "present" if worked is None or max(days) >= worked else "older than the last work"


def inspection_state(signed: str, two_persons: bool) -> str:
    """How the inspection of a bay stands: one inspector suffices where no flight control lies.

    signed: how its scope stands (fresh, inspected, stale, ...); empty: nobody signed.
    """
    state = signed or "not inspected"
    return "fresh" if state == "inspected" and not two_persons else state


def inspection_verdict(state: str) -> Verdict:
    """In while it is fresh; stale when something changed since."""
    return {"fresh": Verdict.IN, "stale": Verdict.STALE}.get(state, Verdict.NOT_MEASURED)


def taken_away(was: str, now: str) -> bool:
    """Whether a closing makes something harder to reach."""
    return REACHES.index(now) > REACHES.index(was)


def reach_verdict(state: str) -> Verdict:
    """In while an arm gets there now, or by opening something again."""
    return Verdict.IN if state in ("now", "by opening") else Verdict.OUT
