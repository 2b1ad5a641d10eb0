"""Rule book: statements that are compared, and directives."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from typing import Annotated, Any

from core.basis.refused import Refused
from core.basis.rules import rule
from core.signoff.directive import Directive, Limits, standing
from core.signoff.documents import Pair, Statement, compare_sources


@dataclass(frozen=True)
class StatementIn:
    """What one document says; a count has `value` instead of limits."""

    source: Annotated[str, "The document."]
    kind: Annotated[str, "range or count."]
    lo: Annotated[float | None, "Low limit, SI."] = None
    hi: Annotated[float | None, "High limit, SI."] = None
    value: Annotated[float | None, "A count."] = None
    unit: Annotated[str, "As printed."] = ""
    resolution: Annotated[float, "Its last printed digit, SI."] = 0.0


def _statement(s: StatementIn) -> Statement:
    lo, hi = (s.lo, s.hi) if s.value is None else (s.value, s.value)
    if lo is None or hi is None:
        raise Refused(f"statements.{s.source}", "needs both limits")
    return Statement(s.source, s.kind, lo, hi, s.unit, s.resolution)


@rule(
    "signoff.compare_sources",
    title="Do documents agree?",
    purpose="Every pair of statements on one quantity.",
    source="Comparison of closed ranges; rounding in conversion allowed for.",
    validity="All but agree are conflicts.",
)
def compared(
    statements: Annotated[tuple[StatementIn, ...], "{source, kind, lo, hi, unit, resolution}, SI."],
) -> Annotated[tuple[Pair, ...], "{a, b, result, both} for each pair."]:
    """`compare_sources` as the page has it."""
    return compare_sources([_statement(s) for s in statements])


@dataclass(frozen=True)
class DeviationIn:
    """A deviation, with all that it needs."""

    approved_by: Annotated[str, "By whom."] = ""
    reference: Annotated[str, "Under which reference."] = ""
    date: Annotated[str, "When."] = ""
    reason: Annotated[str, "Why."] = ""


@dataclass(frozen=True)
class DueIn:
    """Running hours and a date, or months for an interval."""

    hours: Annotated[float | None, "Running hours."] = None
    date: Annotated[date | None, "A day."] = None
    months: Annotated[int | None, "Months."] = None


@dataclass(frozen=True)
class DirectiveIn:
    """A bulletin or directive, and what was done about it."""

    applies: Annotated[tuple[dict[str, Any], ...], "Rows of key to value or range."] = ()
    first: Annotated[DueIn | None, "Before the first compliance."] = None
    interval: Annotated[DueIn | None, "Between compliances."] = None
    done: Annotated[DueIn | None, "The last compliance."] = None
    warn_hours: Annotated[float, "Warn this much ahead."] = 0.0
    warn_days: Annotated[int, "Warn this much ahead."] = 0
    deviation: Annotated[DeviationIn | None, "A deviation instead."] = None


@dataclass(frozen=True)
class NotOurs:
    """It does not apply."""

    applies: Annotated[str, "yes, no or not known."]
    state: Annotated[str, "Where it stands."]


@dataclass(frozen=True)
class Stands:
    """Whether it applies, and when it is due."""

    applies: Annotated[str, "yes, no or not known."]
    state: Annotated[str, "Where it stands."]
    due_hours: Annotated[float | None, "Due at these hours."]
    due_date: Annotated[date | None, "Due on this day."]
    left_hours: Annotated[float | None, "Hours left."]
    left_days: Annotated[int | None, "Days left."]


def _limits(due: DueIn | None) -> Limits | None:
    return None if due is None else Limits(due.hours, due.date, due.months)


@rule(
    "signoff.directive",
    edition=2,
    title="Bulletins and directives",
    purpose="Does it apply, and when is it due?",
    source="The directive's own text stands above this.",
    validity=(
        "Wordings by calendar month run to the month's last day: enter that date. A number"
        " written as text counts as that number; a number against words is not known."
    ),
    caution="Compliance is the owner's and the authority's matter.",
)
def directive(
    d: Annotated[DirectiveIn, "applies, first, interval, done, warn_hours, warn_days, deviation."],
    aircraft: Annotated[dict, "The aircraft's facts."],  # type: ignore[type-arg]
    today: Annotated[date, "YYYY-MM-DD."],
    hours: Annotated[float, "Hours run."],
) -> Stands | NotOurs:
    """`standing` as the page has it."""
    deviation = None if d.deviation is None else vars(d.deviation)
    rows = [
        {k: tuple(v) if isinstance(v, list) else v for k, v in row.items()} for row in d.applies
    ]
    limits = (_limits(d.first), _limits(d.interval), _limits(d.done))
    try:
        s = standing(
            Directive(rows, *limits, d.warn_hours, d.warn_days, deviation), aircraft, today, hours
        )
    except Refused as refusal:
        raise Refused(f"d.{refusal.field}", refusal.reason) from None
    if s.applies == "no":
        return NotOurs(s.applies, s.state)
    return Stands(s.applies, s.state, s.due_hours, s.due_date, s.left_hours, s.left_days)
