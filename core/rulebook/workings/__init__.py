"""How a rule came to its number: steps that a person can follow with a calculator.

A working repeats the rule's formula in plain arithmetic, from the page's own inputs; the tests
hold each against the rule itself. Values are in units that are said beside them.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping

from core.rulebook.registry import rule
from core.rulebook.workings import cables, controls, hardware
from core.rulebook.workings.steps import Inputs, Share, Step, Working

__all__ = ["WORKINGS", "Share", "Step", "Working", "working"]

WORKINGS: Mapping[str, Callable[[Inputs, Inputs, str, str], Working]] = {
    **controls.WORKINGS,
    **cables.WORKINGS,
    **hardware.WORKINGS,
}


def working(rule_id: str, inputs: Inputs, unit: str = "", read_in: str = "") -> Working:
    """How a rule's answer for these inputs comes about; no steps where none are written.

    unit: of the answer, for a rule that takes any. read_in: of its readings. Refuses what the
    rule refuses.
    """
    made = WORKINGS.get(rule_id)
    answer = rule(rule_id).run(inputs)
    return Working(()) if made is None else made(inputs, answer, unit, read_in or unit)
