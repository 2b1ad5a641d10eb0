"""Weight and balance as a trade: each weighing, each loading, and the aircraft as a whole."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import replace
from datetime import datetime
from typing import Any

from core.basis.checks import Check
from core.basis.refused import Refused
from core.basis.verdicts import Verdict
from core.weight.book import Book, Row
from core.weight.checks import AIRCRAFT, aircraft_checks, judged
from core.weight.entry import names_of
from core.weight.rows import CHANGE, LIMITS, LOADING, ROWS, STATION, TANK, WEIGHING
from server.accounts.models import Person
from server.aircraft.models import Aircraft
from server.kit.placing import with_editions
from server.kit.records import held
from server.kit.removing import also_stands, counted
from server.kit.signed import Signed, can_be_signed
from server.kit.trade import Judged, Subjects, Trade, declare, whole
from server.weight.models import WeightEvent, WeightRow
from server.weight.reading import book_of, read_kept, rows_of
from server.weight.steps import step_said

TRADE = "weight"
PARTS = {AIRCRAFT: "worst", WEIGHING: "weighing", LOADING: "loadings"}
ENTERED = "entered for weight and balance"


def _judge(aircraft: int, subjects: Subjects) -> Iterable[Judged]:
    if not WeightRow.objects.filter(aircraft=aircraft).exists():
        return
    b = book_of(Aircraft.objects.get(pk=aircraft))
    if subjects is None or AIRCRAFT in subjects:
        checks = _safe("Weight and balance", AIRCRAFT, lambda: list(aircraft_checks(b)))
        yield Judged(AIRCRAFT, tuple(_listed(c, AIRCRAFT, "worst") for c in checks))
    for n, row in enumerate(b.rows, 1):
        if row.kind in PARTS and (subjects is None or row.slug in subjects):
            checks = _safe(row.name, row.slug, _of(b, row))
            yield Judged(row.slug, tuple(_listed(c, row.slug, PARTS[row.kind]) for c in checks), n)


def _of(b: Book, row: Row) -> Callable[[], list[Check]]:
    return lambda: judged(b, row)


def _safe(name: str, key: str, checks: Callable[[], list[Check]]) -> list[Check]:
    try:
        return checks()
    except Refused as refusal:
        # Something that it stands on is otherwise now.
        said = f"Cannot be judged any more: {refusal.field} {refusal.reason}."
        return [Check(key, name, said, Verdict.NOT_MEASURED)]


def _listed(c: Check, subject: str, part: str) -> Check:
    link = f"weight?part={'weighing' if c.key in WEIGHING_KEYS else part}"
    if subject != AIRCRAFT:
        link += f"&row={subject}"
    origins = dict.fromkeys(c.inputs, ENTERED)
    one = replace(c, concern=f"weight {subject} {c.key}", link=link, origins=origins)
    return next(iter(with_editions([one])))


WEIGHING_KEYS = ("weighed", "compared")

declare(Trade(TRADE, 38, _judge, {WeightRow: whole, WeightEvent: whole}))


def naming(r: WeightRow) -> list[WeightRow]:
    """The rows that name this one."""
    own = (r.kind, r.name.casefold())
    found = []
    for other in rows_of(r.aircraft_id):
        if other.pk != r.pk:
            names = names_of(other.kind, read_kept(other).values)
            if own in {(kind, name.casefold()) for kind, name in names}:
                found.append(other)
    return found


def follow(r: WeightRow, was: str, by: Person) -> int:
    """Rows that name it under its old name name it under its new one; how many."""
    if was.casefold() == r.name.casefold():
        return 0
    old = WeightRow(aircraft=r.aircraft, kind=r.kind, name=was, pk=r.pk)
    rows = naming(old)
    for other in rows:
        other.typed = _renamed(other.typed, was, r.name)
        other.version, other.changed_by = other.version + 1, by
        other.save()
    return len(rows)


COLUMNS = {"loads": "at", "fuel": "tank", "wheels": "scale"}


def _renamed(typed: dict[str, Any], was: str, now: str) -> dict[str, Any]:
    low, found = was.casefold(), dict(typed)

    def name(text: str) -> str:
        return now if text.strip().casefold() == low else text

    for key, column in COLUMNS.items():
        if isinstance(found.get(key), list):
            found[key] = [
                row | {column: name(row[column])} if column in row else row for row in found[key]
            ]
    if "names" in found:
        found["names"] = "; ".join(name(x) for x in str(found["names"]).split(";"))
    if "again" in found:
        found["again"] = name(str(found["again"]))
    if isinstance(found.get("order"), list):
        found["order"] = [
            row | {"shares": "; ".join(_share(x, low, now) for x in row["shares"].split(";"))}
            for row in found["order"]
        ]
    return found


def _share(text: str, low: str, now: str) -> str:
    """`Left tank 0.5` under another name."""
    text = text.strip()
    if text.casefold() == low:
        return now
    head, _, tail = text.rpartition(" ")
    return f"{now} {tail}" if head.strip().casefold() == low else text


@also_stands
def _named(kind: str, row: Any) -> Iterable[str]:
    """Loadings, groups and weighings that name what goes."""
    if isinstance(row, WeightRow):
        yield from counted(len(naming(row)), "row of weight and balance",
                           "rows of weight and balance")  # fmt: skip


COVERED = (LIMITS, STATION, TANK, CHANGE)


def _covered(r: WeightRow) -> dict[str, str]:
    """A weighing with its readings, and what the record shows beside: equipment and limits."""
    said = r.told() | r.limits_told()
    for e in held(r.events.order_by("id")):
        said[f"done {e.pk}"] = step_said(e)
    for other in rows_of(r.aircraft_id):
        if other.kind in COVERED:
            told = {**other.told(), **other.limits_told()}
            words = "; ".join(f"{k}: {v}" for k, v in told.items() if v)
            said[f"{ROWS[other.kind].title} {other.name}"] = words
    return said


def _worked(r: WeightRow) -> Iterable[tuple[str, datetime]]:
    yield from r.events.values_list("by__slug", "at")


can_be_signed(Signed(TRADE, WeightRow, TRADE, _covered, _worked, only={"kind": WEIGHING}))
