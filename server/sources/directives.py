"""Bulletins: where each stands today, and what that tells the gates."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import date
from typing import Any

from core.basis.verdicts import Verdict
from core.signoff.closing import Concern
from core.signoff.directive import Directive as CoreDirective
from core.signoff.directive import Limits, Standing, standing
from server.aircraft.concerns import Told, register
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


@register("directives")
def directive_concerns(aircraft: list[int]) -> Iterable[Told]:
    """Each directive in the bays that it names."""
    today = date.today()
    for d, done in all_of(aircraft):
        s = stands(d, done, today)
        yield (
            d.aircraft_id,
            Concern(
                id=f"directive {d.pk}",
                subject=d.title,
                bays=tuple(d.bays),
                step="directive",
                state=s.state,
                verdict=VERDICTS[s.state],
                link="sources",
            ),
        )
