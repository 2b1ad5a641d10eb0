"""Bulletins and directives: does one apply, and when is it due? (`signoff.directive`)"""

from __future__ import annotations

import calendar
import math
import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from fractions import Fraction
from typing import Any

from core.basis.refused import Refused


@dataclass(frozen=True)
class Limits:
    """A due point: running hours and/or date (or months, for an interval)."""

    hours: float | None = None
    date: date | None = None
    months: int | None = None


@dataclass(frozen=True)
class Directive:
    """`applies`: rows of key -> value or inclusive (low, high); one row matching suffices."""

    applies: Sequence[Mapping[str, Any]]
    first: Limits | None = None
    interval: Limits | None = None
    done: Limits | None = None
    warn_hours: float = 0.0
    warn_days: int = 0
    deviation: Mapping[str, str] | None = None


@dataclass(frozen=True)
class Standing:
    """Whether it applies (yes, no, not known), its state, and what is left."""

    applies: str
    state: str
    due_hours: float | None = None
    due_date: date | None = None
    left_hours: float | None = None
    left_days: int | None = None


def standing(d: Directive, aircraft: Mapping[str, Any], today: date, hours: float) -> Standing:
    """Where this directive stands today at `hours` run.

    A key that the aircraft's facts do not have counts as applying until known. Due is what
    comes first, hours or date; the due hour and day themselves are not over. Refuses a
    deviation without approval, reference, date or reason, and a directive without limit.
    """
    applies = _applies(d.applies, aircraft)
    if applies == "no":
        return Standing(applies, "does not apply")
    if d.deviation is not None:
        for field in ("approved_by", "reference", "date", "reason"):
            if not str(d.deviation.get(field) or "").strip():
                raise Refused(f"deviation.{field}", "is needed for a deviation")
        return Standing(applies, "deviation")
    if d.done is not None and d.interval is None:
        return Standing(applies, "complied")
    due = _due(d)
    left_hours = None if due.hours is None else due.hours - hours
    left_days = None if due.date is None else (due.date - today).days
    state = _state(d, left_hours, left_days)
    return Standing(applies, state, due.hours, due.date, left_hours, left_days)


def _applies(rows: Sequence[Mapping[str, Any]], aircraft: Mapping[str, Any]) -> str:
    answers = [_row(row, aircraft) for row in rows]
    if not answers:
        raise Refused("applies", "must say what it applies to")
    return next((a for a in ("yes", "not known") if a in answers), "no")


def _row(row: Mapping[str, Any], aircraft: Mapping[str, Any]) -> str:
    found = [_matches(key, asked, aircraft.get(key)) for key, asked in row.items()]
    return "no" if False in found else "not known" if None in found else "yes"


def _matches(key: str, asked: Any, has: Any) -> bool | None:
    """Whether the aircraft's value is the asked one or within its range; None: not known, or
    of another kind (a number against words), so that nobody can say."""
    ranged = isinstance(asked, (list, tuple))
    ends = list(asked) if ranged else [asked]
    if ranged and len(ends) != 2:
        raise Refused(f"applies.{key}", "must be one value, or a low and a high one")
    if any(isinstance(e, bool) or not isinstance(e, (int, float, str)) for e in ends):
        raise Refused(f"applies.{key}", "must be numbers or text")
    values = [*map(_kind, [*ends, has])]
    if has is None or len({kind for kind, _ in values}) != 1:
        return None
    low, high, own = values[0][1], values[-2][1], values[-1][1]
    return bool(low <= own <= high)


def _kind(value: Any) -> tuple[str, Any]:
    """A number, also one written as text; else the text."""
    if isinstance(value, str):
        digits = re.fullmatch(r"\s*-?\d+(\.\d+)?\s*", value, re.ASCII)
        return ("number", Fraction(value)) if digits else ("text", value)
    if isinstance(value, bool) or not isinstance(value, (int, float)):
        return "other", value
    return ("number", Fraction(value)) if abs(value) < math.inf else ("other", value)


def _due(d: Directive) -> Limits:
    if d.done is not None and d.interval is not None:
        step, done = d.interval, d.done
        by_hours = None if step.hours is None or done.hours is None else done.hours + step.hours
        by_date = None if step.months is None or done.date is None else _add(done.date, step.months)
        due = Limits(by_hours, by_date)
    else:
        due = d.first or Limits()
    if due.hours is None and due.date is None:
        raise Refused("first", "has no limit in hours or by date")
    return due


def _state(d: Directive, left_hours: float | None, left_days: int | None) -> str:
    left = [(x, warn) for x, warn in ((left_hours, d.warn_hours), (left_days, d.warn_days))]
    if any(x is not None and x < 0 for x, _ in left):
        return "overdue"
    if any(x is not None and x <= warn for x, warn in left):
        return "due soon"
    return "complied until due" if d.done is not None else "open"


def _add(day: date, months: int) -> date:
    years, month = divmod(day.month - 1 + months, 12)
    year, month = day.year + years, month + 1
    return date(year, month, min(day.day, calendar.monthrange(year, month)[1]))
