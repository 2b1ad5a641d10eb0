"""The Sources page: documents, what they say, conflicts, odd tolerances, bulletins."""

from __future__ import annotations

from datetime import date
from typing import Any, TypedDict

from django.db.models import Count

from core.basis.quantities import DIMENSIONS
from core.basis.quantities.units import from_si
from server.aircraft.models import Aircraft, Source
from server.sources.conflicts import Group, groups, odd
from server.sources.directives import VERDICTS, all_of, stands
from server.sources.models import Compliance, Directive, Statement


class DocumentShown(TypedDict):
    """A document and how much is cited from it."""

    id: int
    version: int
    cited: str
    title: str
    revision: str
    dated: str
    cited_by: int


class Side(TypedDict):
    """One document's word on a thing."""

    key: str
    said: str
    cited: str
    page: str


class StatementShown(TypedDict):
    """What one document says of a thing, as it was entered."""

    id: int
    version: int
    thing: str
    bay: str
    kind: str
    dimension: str
    value: str
    source: int
    cited: str
    page: str


class PairShown(TypedDict):
    """How two relate; `both` is their common part, as text."""

    a: str
    b: str
    result: str
    both: str


class ConflictGroup(TypedDict):
    """A thing that several documents speak of."""

    thing: str
    bay: str
    link: str
    open: bool
    disagrees: bool
    trouble: str
    sides: list[Side]
    pairs: list[PairShown]
    chosen: str
    reason: str
    by: str
    at: str
    stale: bool


class OddShown(TypedDict):
    """A tolerance to be questioned."""

    thing: str
    said: str
    cited: str
    ratio: float
    link: str


class DirectiveShown(TypedDict):
    """A bulletin and where it stands; `first_hours` to `warn_days` as they were entered."""

    id: int
    version: int
    title: str
    source: int
    cited: str
    applies_typed: str
    first_hours: float | None
    first_on: str
    every_hours: float | None
    every_months: int | None
    warn_hours: float
    warn_days: int
    bays: list[str]
    applies: list[dict[str, Any]]
    applying: str
    steps: list[str]
    state: str
    verdict: str
    due: str
    left: str
    history: list[str]


class SourcesShown(TypedDict):
    """The Sources page."""

    documents: list[DocumentShown]
    statements: list[StatementShown]
    groups: list[ConflictGroup]
    odd: list[OddShown]
    directives: list[DirectiveShown]
    hours_run: float


def page(a: Aircraft) -> SourcesShown:
    """The Sources page of an aircraft."""
    today = date.today()
    return SourcesShown(
        documents=_documents(a),
        statements=[
            statement_shown(s)
            for s in Statement.objects.filter(aircraft=a).select_related("source", "bay")
        ],
        groups=[_group(g) for g in groups([a.pk])],
        odd=[
            OddShown(
                thing=o.said.thing,
                said=o.said.shown,
                cited=o.said.cited,
                ratio=o.ratio,
                link=o.said.link,
            )
            for o in odd([a.pk])
        ],
        directives=[_directive(d, done, today) for d, done in all_of([a.pk])],
        hours_run=a.hours_run,
    )


def statement_shown(s: Statement) -> StatementShown:
    """A statement for the screen."""
    return StatementShown(
        id=s.pk,
        version=s.version,
        thing=s.thing,
        bay=s.bay.slug if s.bay else "",
        kind=s.kind,
        dimension=s.dimension,
        value=s.as_typed,
        source=s.source_id,
        cited=s.source.cited,
        page=s.page,
    )


def _documents(a: Aircraft) -> list[DocumentShown]:
    rows = Source.objects.filter(aircraft=a).annotate(n=Count("requirements"))
    return [
        DocumentShown(
            id=s.pk,
            version=s.version,
            cited=s.cited,
            title=s.title,
            revision=s.revision,
            dated=s.dated.isoformat() if s.dated else "",
            cited_by=s.n,
        )
        for s in rows.order_by("title")
    ]


def _group(g: Group) -> ConflictGroup:
    first = g.sides[0]
    d = g.decided
    names = {s.key: s.cited for s in g.sides}
    return ConflictGroup(
        thing=g.thing,
        bay=first.bay,
        link=first.link,
        open=g.open,
        disagrees=g.disagrees,
        trouble=g.trouble,
        sides=[Side(key=s.key, said=s.shown, cited=s.cited, page=s.page) for s in g.sides],
        pairs=[
            PairShown(
                a=names.get(p.a, p.a),
                b=names.get(p.b, p.b),
                result=p.result,
                both=_both(p.both, first.dimension, first.statement.unit) if p.both else "",
            )
            for p in g.pairs
        ],
        chosen=d.chosen if d else "",
        reason=d.reason if d else "",
        by=d.by if d else "",
        at=d.at if d else "",
        stale=g.stale,
    )


def _both(both: tuple[float, float], dimension: str, unit: str) -> str:
    """The common part in the printed unit."""
    if dimension in DIMENSIONS and unit in DIMENSIONS[dimension].pint_names:
        low, high = (from_si(x, unit, dimension) for x in both)
    else:
        low, high = both
    said = f"{low:.6g}" if abs(high - low) < 1e-9 else f"{low:.6g} to {high:.6g}"
    return f"{said} {unit}".strip()


def applies_typed(rows: list[dict[str, Any]]) -> str:
    """What a bulletin applies to, as it would be typed."""
    return "; ".join(", ".join(f"{k}={_typed(v)}" for k, v in row.items()) for row in rows)


def _typed(value: Any) -> str:
    return "..".join(str(x) for x in value) if isinstance(value, list) else str(value)


def _directive(d: Directive, done: list[Compliance], today: date) -> DirectiveShown:
    s = stands(d, done, today)
    due = [f"{s.due_hours:g} h" if s.due_hours is not None else "", str(s.due_date or "")]
    left = [
        f"{s.left_hours:g} h" if s.left_hours is not None else "",
        f"{s.left_days} days" if s.left_days is not None else "",
    ]
    return DirectiveShown(
        id=d.pk,
        version=d.version,
        title=d.title,
        source=d.source_id,
        cited=d.source.cited,
        applies_typed=applies_typed(d.applies),
        first_hours=d.first_hours,
        first_on=d.first_on.isoformat() if d.first_on else "",
        every_hours=d.every_hours,
        every_months=d.every_months,
        warn_hours=d.warn_hours,
        warn_days=d.warn_days,
        bays=d.bays,
        applies=d.applies,
        applying=s.applies,
        steps=d.steps,
        state=s.state,
        verdict=VERDICTS[s.state].value,
        due=", ".join(x for x in due if x),
        left=", ".join(x for x in left if x),
        history=[_compliance(c) for c in done],
    )


def _compliance(c: Compliance) -> str:
    if c.deviation:
        return (
            f"{c.done_on.isoformat()}: deviation, approved by {c.deviation['approved_by']} "
            f"({c.deviation['reference']}): {c.deviation['reason']}"
        )
    said = f"{c.done_on.isoformat()} at {c.hours:g} h, {c.by.name}"
    return f"{said}: {c.note}" if c.note else said
