"""A refusal: bad input is named by field and reason, never clamped or guessed."""

from __future__ import annotations

import math
from collections.abc import Sequence

# Nothing on an aircraft, in any unit used here, is larger: a slip of the key, not a measure.
MOST = 1e15


class Refused(ValueError):
    """Input that cannot be used. `field` names it, `reason` says why in plain words."""

    def __init__(self, field: str, reason: str) -> None:
        super().__init__(f"{field}: {reason}")
        self.field = field
        self.reason = reason


def finite(value: float, field: str) -> float:
    """The value itself; refuses NaN, infinities and anything that is not a number."""
    if isinstance(value, bool) or not isinstance(value, (int, float)):
        raise Refused(field, "must be a number")
    if isinstance(value, float) and not math.isfinite(value):
        raise Refused(field, "must be a finite number")
    if abs(value) > MOST:
        raise Refused(field, "is larger than anything on an aircraft")
    return float(value)


def positive(value: float, field: str) -> float:
    """The value; refuses zero and below."""
    if finite(value, field) <= 0:
        raise Refused(field, "must be greater than zero")
    return float(value)


def not_negative(value: float, field: str) -> float:
    """The value; refuses below zero."""
    if finite(value, field) < 0:
        raise Refused(field, "must not be negative")
    return float(value)


def within(value: float, low: float, high: float, field: str, said: str) -> float:
    """The value; refuses outside [low, high]. `said` is the range in the user's units.

    A thousandth of a millionth of slack lets a limit itself pass after a conversion.
    """
    slack = 1e-9 * max(1.0, abs(low), abs(high))
    if not low - slack <= finite(value, field) <= high + slack:
        raise Refused(field, f"must be {said}")
    return float(value)


def numbers(values: Sequence[float], field: str, at_least: int = 1) -> tuple[float, ...]:
    """The values as a tuple; refuses too few, and any that is not finite."""
    if len(values) < at_least:
        need = "a value" if at_least == 1 else f"at least {at_least} values"
        raise Refused(field, f"needs {need}")
    return tuple(finite(v, field) for v in values)


def choice(value: str, allowed: Sequence[str], field: str) -> str:
    """The value; refuses one that is not among `allowed`, listing them."""
    if value not in allowed:
        raise Refused(field, "must be one of: " + ", ".join(allowed))
    return value
