"""A check: what a rule, or a person's word, says of one thing, and how it stands in a gate.

The one shape in which a trade tells what it has. Kept as a row it is the concern of lane and
gates, the covered fact of a signature, and the "Why this number?" of the screen.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from datetime import date
from typing import Any

from core.basis.verdicts import Verdict

# Step of a gate -> the states that pass, in the order of evaluation.
STEPS: dict[str, tuple[str, ...]] = {
    "conflict": ("resolved",),
    "finding": ("closed",),
    "reading": ("in",),
    "clearance": ("clear", "accepted"),
    "joint": ("final",),
    "test": ("passed",),
    "task": ("done",),
    "loose end": ("ended",),
    "directive": ("does not apply", "complied", "complied until due", "deviation"),
    "signature": ("fresh",),
    "photo": ("present",),
    "count": ("in",),
    "reach": ("now", "by opening", "never needed"),
}


def state_of(step: str, verdict: Verdict) -> str:
    """The word of a step for a verdict: its passing word when in, else the verdict's own."""
    return STEPS[step][0] if verdict is Verdict.IN else verdict.value


@dataclass(frozen=True)
class Later:
    """What a check becomes on a day by itself, if nothing is done: a date passes."""

    on: date
    state: str
    verdict: Verdict
    what: str = ""


@dataclass(frozen=True)
class Check:
    """One thing judged.

    key: unique within its subject. what: the thing in words; about: whose it is, put before it
    in lists of the whole aircraft. said: the answer in words. at: where it is, m, until it is
    put into its bay (none: along the whole of its subject).
    state: the gate step's word (empty: follows from the verdict). concern: its name in gates
    and overrides. quiet: listed only while it does not pass. later: what the calendar alone
    makes of it, earliest first. rule, inputs: what gave it, under the page's names; origins:
    where each input comes from, in words.
    """

    key: str
    what: str
    said: str
    verdict: Verdict
    step: str = "reading"
    state: str = ""
    bays: tuple[str, ...] = ()
    concern: str = ""
    owner: str = ""
    link: str = ""
    closure: str = ""
    quiet: bool = False
    later: tuple[Later, ...] = ()
    rule: str = ""
    edition: int = 0
    inputs: Mapping[str, Any] = field(default_factory=dict)
    origins: Mapping[str, str] = field(default_factory=dict)
    part: str = ""
    side: str = ""
    at: tuple[float, ...] = ()
    about: str = ""

    @property
    def word(self) -> str:
        """Its state in the gate."""
        return self.state or state_of(self.step, self.verdict)

    def on(self, today: date) -> tuple[str, str, Verdict]:
        """(what, state, verdict) as the calendar has it on a day."""
        what, state, verdict = self.what, self.word, self.verdict
        for change in self.later:
            if change.on <= today:
                what, state, verdict = change.what or what, change.state, change.verdict
        return what, state, verdict


@dataclass(frozen=True)
class Shift:
    """A check that a change would judge otherwise. before, after: None where it is not there."""

    what: str
    before: Verdict | None
    after: Verdict | None
    said: str


def shifts(before: Iterable[Check], after: Iterable[Check]) -> list[Shift]:
    """Every verdict that differs, by key: those that would be, then those that would be gone."""
    was, would = ({c.key: c for c in checks} for checks in (before, after))
    found = [
        Shift(c.what, was[k].verdict if k in was else None, c.verdict, c.said)
        for k, c in would.items()
        if k not in was or was[k].verdict is not c.verdict
    ]
    return found + [Shift(c.what, c.verdict, None, "") for k, c in was.items() if k not in would]
