"""Weight and balance as the API answers it."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Any, TypedDict

from core.basis.refused import Refused
from core.basis.verdicts import Verdict, worst
from core.weight import figures
from core.weight.book import Book, Row, labels
from core.weight.checks import AIRCRAFT
from core.weight.rows import CHANGE, ONCE, PREPARATIONS, ROWS, WEIGHING
from core.weight.saying import kg, known_mm
from core.weight.words import CAUTION
from server.aircraft.models import Aircraft
from server.config.words import Word
from server.kit.models import Check
from server.kit.records import held
from server.kit.showing import CheckShown, check_shown, row_shown
from server.kit.standing import of_subjects
from server.weight.models import WeightEvent, WeightRow
from server.weight.reading import book_from, events_of, rows_of
from server.weight.steps import step_said
from server.weight.trade import TRADE
from server.worksheets.shapes import ChoiceShown, KindShown, kind_shown


class DoneShown(TypedDict):
    """Something done at a weighing, with who and when."""

    id: int
    doing: str
    said: str
    by: str
    at: str
    note: str


class WeightRowShown(TypedDict):
    """A row: what was typed, how it stands, what follows from the others.

    wheels: of a weighing, every wheel with its scale and what it shows ("" while it is not read);
    prepared: what is; figure: what its drawing needs.
    """

    slug: str
    kind: str
    name: str
    version: int
    typed: dict[str, Any]
    source: int | None
    page: str
    said: str
    verdict: Word | None
    checks: list[CheckShown]
    events: list[DoneShown]
    prepared: list[str]
    figure: dict[str, Any]


class LedgerShown(TypedDict):
    """The empty aircraft after a change, or as weighed."""

    slug: str
    name: str
    day: str
    kg: float
    x_mm: float
    U_kg: float
    U_mm: float
    moment: float


class WeightPage(TypedDict):
    """Weight and balance of an aircraft.

    once: kinds of which an aircraft has one. checks: of the aircraft as a whole. ledger: since the
    weighing that counts. estimate, worst, ballast, effect: what their drawings need, null or empty
    while nothing is entered for them; `why`: in words, why there is none.
    """

    count: int
    results: list[WeightRowShown]
    kinds: list[KindShown]
    once: list[str]
    preparations: list[ChoiceShown]
    verdict: Word | None
    checks: list[CheckShown]
    ledger: list[LedgerShown]
    estimate: dict[str, Any] | None
    worst: dict[str, Any]
    ballast: dict[str, Any] | None
    effect: dict[str, Any] | None
    caution: str


class WeightTried(TypedDict):
    """A row that is not kept: what would be said of it."""

    verdict: Word | None
    checks: list[CheckShown]
    figure: dict[str, Any]


class SettlingShown(TypedDict):
    """A scale read live: settled, or why not; kg: what may be taken."""

    wheel: str
    settled: bool
    reason: str
    kg: float | None
    u: float | None
    creeping: bool


class DatumShown(TypedDict):
    """The empty aircraft and the envelope against another datum: mm and kg·m."""

    new_datum_mm: float
    kg: float | None
    x_mm: float | None
    moment: float | None
    corners: list[list[float]]
    stations: list[list[Any]]


def page(aircraft: Aircraft) -> WeightPage:
    """All of it."""
    rows, events = rows_of(aircraft.pk), events_of(aircraft.pk)
    b = book_from(rows, events)
    kept = of_subjects(aircraft.pk, TRADE, [AIRCRAFT, *(r.slug for r in rows)])
    whole = [row_shown(c) for c in kept.get(AIRCRAFT, [])]
    by = {r.slug: r for r in b.rows}
    return WeightPage(
        count=len(rows),
        results=[_row(b, r, by[r.slug], kept.get(r.slug, []), events.get(r.pk, [])) for r in rows],
        kinds=[kind_shown(k) for k in ROWS.values()],
        once=list(ONCE),
        preparations=[ChoiceShown(value=v, word=w) for v, w in PREPARATIONS.items()],
        verdict=_verdict(whole),
        checks=whole,
        ledger=[LedgerShown(**x) for x in figures.ledger_rows(b)] if _weighed(b) else [],  # type: ignore[typeddict-item]
        estimate=figures.estimate_figure(b),
        worst=figures.worst_figure(b),
        ballast=figures.ballast_figure(b) if _weighed(b) else None,
        effect=_effect(b),
        caution=CAUTION,
    )


def _weighed(b: Book) -> bool:
    """Whether the weighing that counts can be worked out."""
    try:
        return b.empty is not None
    except Refused:
        return False


def _effect(b: Book) -> dict[str, Any] | None:
    planned = b.changes(planned=True)
    if not planned or not _weighed(b):
        return None
    try:
        return figures.effect_of(b, planned)
    except Refused as refusal:
        return {"why": refusal.reason}


def _verdict(checks: Sequence[CheckShown]) -> Word | None:
    return worst(Verdict(c["verdict"]) for c in checks).value if checks else None


def _row(
    b: Book, r: WeightRow, row: Row, checks: Iterable[Check], events: Iterable[WeightEvent]
) -> WeightRowShown:
    shown = [row_shown(c) for c in checks]
    return WeightRowShown(
        slug=r.slug,
        kind=r.kind,
        name=r.name,
        version=r.version,
        typed=dict(r.typed),
        source=r.source_id,
        page=r.page,
        said=_said(b, row),
        verdict=_verdict(shown),
        checks=shown,
        events=[_done(e) for e in reversed(held(events))],
        prepared=sorted(row.prepared),
        figure=figures.of_row(b, row),
    )


def _said(b: Book, row: Row) -> str:
    """A row in a line."""
    v = row.values
    if row.kind == WEIGHING:
        left = [x for x in labels(row) if x not in row.read]
        if left:
            return f"{v['day']}; not read yet: {', '.join(left)}"
        try:
            r = b.result(row)
        except Refused as refusal:
            return f"{v['day']}; {refusal.reason}"
        return f"{v['day']}; {kg(r['mass_kg'])} at {known_mm(r['x_m'], r['U_x_m'])}"
    if row.kind == CHANGE and v.get("planned"):
        return "planned"
    return ""


def _done(e: WeightEvent) -> DoneShown:
    return DoneShown(
        id=e.pk, doing=e.doing, said=step_said(e), by=e.by.name, at=e.at.isoformat(), note=e.note
    )


def shown(aircraft: Aircraft, slug: str) -> WeightRowShown:
    """One row as it stands."""
    rows, events = rows_of(aircraft.pk), events_of(aircraft.pk)
    b = book_from(rows, events)
    r = next(x for x in rows if x.slug == slug)
    row = next(x for x in b.rows if x.slug == slug)
    kept = of_subjects(aircraft.pk, TRADE, [slug])
    return _row(b, r, row, kept.get(slug, []), events.get(r.pk, []))


def tried(b: Book, row: Row, checks: Iterable[Any]) -> WeightTried:
    """Of a row that is not kept."""
    found = [check_shown(c) for c in checks]
    return WeightTried(verdict=_verdict(found), checks=found, figure=figures.of_row(b, row))
