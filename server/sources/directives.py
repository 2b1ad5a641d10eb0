"""Bulletins: where each stands today, and what that tells the gates."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import date, timedelta
from typing import Any

from core.basis.checks import Check, Later
from core.basis.verdicts import Verdict
from core.signoff.directive import Directive as CoreDirective
from core.signoff.directive import Limits, Standing, standing
from server.aircraft.models import Aircraft
from server.kit.trade import Judged, Subjects, Trade, declare
from server.sources.models import Compliance, Directive

VERDICTS = {
    "does not apply": Verdict.IN,
    "complied": Verdict.IN,
    "complied until due": Verdict.IN,
    "deviation": Verdict.ACCEPTED,
    "due soon": Verdict.TOO_CLOSE,
    "open": Verdict.NOT_MEASURED,
    "overdue": Verdict.OUT,
}


def stands(d: Directive, done: list[Compliance], today: date) -> Standing:
    """Where a directive stands; `done`: its compliances in order."""
    last = done[-1] if done else None
    complied = next((c for c in reversed(done) if c.deviation is None), None)
    aircraft = d.aircraft
    return standing(
        CoreDirective(
            applies=[_row(r) for r in d.applies],
            first=_limits(d.first_hours, d.first_on, None),
            interval=_limits(d.every_hours, None, d.every_months),
            done=Limits(complied.hours, complied.done_on) if complied else None,
            warn_hours=d.warn_hours,
            warn_days=d.warn_days,
            deviation=last.deviation if last and last.deviation else None,
        ),
        aircraft.facts,
        today,
        aircraft.hours_run,
    )


def _row(row: dict[str, Any]) -> dict[str, Any]:
    return {k: tuple(v) if isinstance(v, list) else v for k, v in row.items()}


def _limits(hours: float | None, on: date | None, months: int | None) -> Limits | None:
    if hours is None and on is None and months is None:
        return None
    return Limits(hours, on, months)


def all_of(aircraft: list[int]) -> list[tuple[Directive, list[Compliance]]]:
    """Directives with their compliances, in two queries."""
    rows = list(
        Directive.objects.filter(aircraft__in=aircraft).select_related("aircraft", "source")
    )
    done: dict[int, list[Compliance]] = {d.pk: [] for d in rows}
    for c in Compliance.objects.filter(directive__in=rows).select_related("by"):
        done[c.directive_id].append(c)
    return [(d, done[d.pk]) for d in rows]


def _judge(aircraft: int, subjects: Subjects) -> Iterable[Judged]:
    """Each directive in the bays that it names."""
    for d, done in all_of([aircraft]):
        if subjects is None or str(d.pk) in subjects:
            yield Judged(str(d.pk), (_check(d, done),), d.pk)


def _check(d: Directive, done: list[Compliance]) -> Check:
    today = date.today()
    s = stands(d, done, today)
    days = []
    if s.due_date is not None:
        days = [s.due_date - timedelta(days=d.warn_days), s.due_date + timedelta(days=1)]
    coming = ((day, stands(d, done, day).state) for day in days if day > today)
    return Check(
        key="standing",
        what=d.title,
        said=s.state,
        verdict=VERDICTS[s.state],
        step="directive",
        state=s.state,
        bays=tuple(d.bays),
        concern=f"directive {d.pk}",
        link="sources",
        later=tuple(Later(day, word, VERDICTS[word]) for day, word in coming if word != s.state),
    )


DIRECTIVES = declare(
    Trade(
        "directives",
        75,
        _judge,
        {
            Directive: lambda x: [(x.aircraft_id, str(x.pk))],
            Compliance: lambda x: [(x.directive.aircraft_id, str(x.directive_id))],
            Aircraft: lambda x: [(x.pk, "")],
        },
    )
)
