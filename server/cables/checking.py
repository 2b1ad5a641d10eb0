"""What a check of a loop is: where it stands in a gate, in words, with the rule behind it."""

from __future__ import annotations

import math
from typing import Any, TypedDict

from core.basis.verdicts import Verdict
from server.controls import shapes as controls

DEG = math.degrees(1.0)


class Check(TypedDict):
    """One thing judged: where it stands in a gate, in words, and the rule behind it."""

    key: str
    part: str
    side: str
    what: str
    said: str
    verdict: controls.Word
    step: str
    state: str
    bays: list[str]
    due: str
    why: controls.Why | None


def check(
    key: str,
    part: str,
    side: str,
    what: str,
    said: str,
    verdict: Verdict,
    step: str = "reading",
    state: str = "",
    at: Any = None,
    reason: controls.Why | None = None,
    due: str = "",
) -> Check:
    """A check; its state in the gate is its verdict's word unless the step has its own.

    at: where it is, m, until `judge_loop` has put it into its bay (empty: along the whole run).
    """
    passes = {"clearance": "clear", "joint": "final", "test": "passed", "task": "done"}
    word = state or (passes[step] if step in passes and verdict is Verdict.IN else verdict.value)
    return Check(
        key=key,
        part=part,
        side=side,
        what=what,
        said=said,
        verdict=verdict.value,  # type: ignore[typeddict-item]
        step=step,
        state=word,
        bays=list(at) if at else [],
        due=due,
        why=reason,
    )
