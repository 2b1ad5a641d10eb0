"""What holds for every rule, whatever it computes: its schema and its answers tell one story."""

from __future__ import annotations

import copy
import math
from collections.abc import Iterator
from typing import Any

import jsonschema

from core.basis.refused import Refused
from core.basis.rules import TOO_EXTREME
from core.rulebook.registry import Rule

# What a person may put where something else is asked; every one must be read or refused.
JUNK: tuple[Any, ...] = (
    None,
    True,
    False,
    "",
    "a",
    "−3",
    [],
    {},
    [[]],
    [None],
    {"no such key": 1},
    0,
    -1,
    1,
    0.5,
    3,
    1e-12,
    -1e300,
    1e300,
    math.nan,
    math.inf,
    -math.inf,
    10**400,
)
Path = tuple[str | int, ...]


def places(value: Any, at: Path = ()) -> Iterator[Path]:
    """Every place in plain data, the outermost first."""
    yield at
    if isinstance(value, dict):
        for key, inner in value.items():
            yield from places(inner, (*at, key))
    elif isinstance(value, list):
        for i, inner in enumerate(value):
            yield from places(inner, (*at, i))


def put(value: Any, at: Path, what: Any) -> Any:
    """A copy with something else at a place."""
    if not at:
        return what
    new = copy.deepcopy(value)
    spot = new
    for key in at[:-1]:
        spot = spot[key]
    spot[at[-1]] = what
    return new


def drop(value: Any, at: Path) -> Any:
    """A copy without what stands at a place."""
    new = copy.deepcopy(value)
    spot = new
    for key in at[:-1]:
        spot = spot[key]
    del spot[at[-1]]
    return new


def add(value: Any, at: Path, key: str) -> Any:
    """A copy with one more key in the object at a place."""
    new = copy.deepcopy(value)
    spot = new
    for step in at:
        spot = spot[step]
    spot[key] = 1
    return new


def at(value: Any, where: Path) -> Any:
    """What stands at a place."""
    for key in where:
        value = value[key]
    return value


def extreme(inputs: Any) -> bool:
    """Whether a number lies beyond anything that is measured."""
    found = (at(inputs, p) for p in places(inputs))
    return any(isinstance(x, float) and x != 0.0 and not 1e-9 <= abs(x) <= 1e9 for x in found)


class Lawful:
    """One rule with its schemas made ready."""

    def __init__(self, rule: Rule) -> None:
        self.rule = rule
        self.asked = jsonschema.Draft202012Validator(rule.input_schema())
        self.given = jsonschema.Draft202012Validator(rule.output_schema())

    def answer(self, inputs: Any) -> dict[str, Any] | Refused:
        """What it gives, or how it refuses; anything else that happens is its fault."""
        try:
            return self.rule.run(inputs)
        except Refused as refusal:
            return refusal

    def fault(self, inputs: Any) -> str | None:
        """Why its answer to these inputs breaks a law; None: it does not.

        A refusal names a field and gives a reason; only numbers far from all that is built are
        refused together. An answer is of the shape its schema says,
        has no number that is none, and what is answered was allowed by the input schema.
        """
        got = self.answer(inputs)
        if isinstance(got, Refused):
            if not got.field or not got.reason:
                return f"refused without a word: {got!r}"
            if got.reason == TOO_EXTREME and not extreme(inputs):
                return "refused as too extreme, though nothing is"
            return None
        wrong = next(self.given.iter_errors(got), None)
        if wrong is not None:
            return f"answer: {list(wrong.path)}: {wrong.message[:200]}"
        for where in places(got):
            number = at(got, where)
            if isinstance(number, float) and not math.isfinite(number):
                return f"answer: {where} is {number}"
        wrong = next(self.asked.iter_errors(inputs), None)
        if wrong is not None:
            return f"answered what its schema forbids: {list(wrong.path)}: {wrong.message[:200]}"
        return None


def rounded(value: Any) -> Any:
    """An answer or a drawing to six digits: the last ones hang on the machine."""
    if isinstance(value, dict):
        return {k: rounded(v) for k, v in value.items()}
    if isinstance(value, (list, tuple)):
        return [rounded(v) for v in value]
    if isinstance(value, float):
        return 0.0 if abs(value) < 1e-12 else float(f"{value:.6g}")
    return value
