"""Documents, what they say, where they disagree, and bulletins."""

from __future__ import annotations

from datetime import UTC, date, datetime
from typing import Any, TypedDict

from django.db import transaction
from django.db.models import Count
from django.http import Http404
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from core.basis.quantities import DIMENSIONS, parse_range
from core.basis.quantities.units import from_si
from core.basis.refused import Refused
from server.aircraft.access import check_version, member
from server.aircraft.models import Aircraft, Bay, Member, Source
from server.config.forms import checked
from server.config.shapes import answer
from server.config.text import Text, text
from server.journal.writing import note
from server.record.api import bay_of
from server.signoff.ledger import append
from server.sources.conflicts import Group, groups, odd, seen
from server.sources.directives import VERDICTS, all_of, stands
from server.sources.models import Compliance, Directive, Resolution, Statement
from server.sources.registry import registry

LEAST_REASON = 10


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
    """A bulletin and where it stands."""

    id: int
    title: str
    cited: str
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
    groups: list[ConflictGroup]
    odd: list[OddShown]
    directives: list[DirectiveShown]
    facts: dict[str, Any]
    hours_run: float
    aircraft_version: int


class StatementIn(serializers.Serializer[Any]):
    """What a document says of one thing."""

    thing = Text(max_length=120)
    bay = text(50)
    kind = serializers.ChoiceField(choices=["range", "count"])
    dimension = serializers.ChoiceField(
        choices=["", *DIMENSIONS], required=False, default="", allow_blank=True
    )
    value = Text(max_length=60)
    source = serializers.IntegerField()
    page = text(30)


class ResolveIn(serializers.Serializer[Any]):
    """Which statement counts, and why."""

    thing = Text(max_length=120)
    chosen = Text(max_length=120)
    reason = Text(max_length=300)


class ReviseIn(serializers.Serializer[Any]):
    """A new revision of a document."""

    version = serializers.IntegerField()
    revision = Text(max_length=20)
    dated = serializers.DateField(required=False, allow_null=True, default=None)


class DirectiveIn(serializers.Serializer[Any]):
    """A bulletin."""

    title = Text(max_length=120)
    source = serializers.IntegerField()
    bays = serializers.ListField(
        child=serializers.CharField(max_length=50), required=False, default=list
    )
    applies = Text(max_length=400, help_text="model=Fenlark, serial=12..88; pump=P-30")
    steps = serializers.ListField(child=Text(max_length=200), required=False, default=list)
    first_hours = serializers.FloatField(required=False, allow_null=True, default=None, min_value=0)
    first_on = serializers.DateField(required=False, allow_null=True, default=None)
    every_hours = serializers.FloatField(required=False, allow_null=True, default=None, min_value=0)
    every_months = serializers.IntegerField(
        required=False, allow_null=True, default=None, min_value=1, max_value=600
    )


class ComplyIn(serializers.Serializer[Any]):
    """Done, or a deviation with its approval."""

    done_on = serializers.DateField()
    hours = serializers.FloatField(min_value=0)
    note = text(300)
    deviation = serializers.BooleanField(required=False, default=False)
    approved_by = text(80)
    reference = text(80)
    reason = text(300)


class SourcesPageView(APIView):
    """Everything about documents on one page."""

    @extend_schema(responses=answer(SourcesShown))
    def get(self, request: Request, slug: str) -> Response:
        """Documents, conflicts, odd tolerances, bulletins."""
        who = member(request, slug)
        return Response(page(who.aircraft))


def page(a: Aircraft) -> SourcesShown:
    """The Sources page of an aircraft."""
    today = date.today()
    return SourcesShown(
        documents=_documents(a),
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
        facts=a.facts,
        hours_run=a.hours_run,
        aircraft_version=a.version,
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


def _directive(d: Directive, done: list[Compliance], today: date) -> DirectiveShown:
    s = stands(d, done, today)
    due = [f"{s.due_hours:g} h" if s.due_hours is not None else "", str(s.due_date or "")]
    left = [
        f"{s.left_hours:g} h" if s.left_hours is not None else "",
        f"{s.left_days} days" if s.left_days is not None else "",
    ]
    return DirectiveShown(
        id=d.pk,
        title=d.title,
        cited=d.source.cited,
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


class StatementsView(APIView):
    """Entering what a document says."""

    @extend_schema(request=StatementIn, responses=answer(SourcesShown, 201))
    def post(self, request: Request, slug: str) -> Response:
        """A range with its unit, or a count; refused when the unit cannot be of that kind."""
        who = member(request, slug, "change facts")
        given = checked(StatementIn, request)
        row = Statement(
            aircraft=who.aircraft,
            changed_by=who.person,
            thing=given["thing"].strip(),
            bay=bay_of(who.aircraft, given["bay"]),
            kind=given["kind"],
            source=source_of(who.aircraft, given["source"]),
            page=given["page"],
        )
        put_value(row, given)
        row.save()
        bays = [row.bay.slug] if row.bay else []
        said = f"{row.source.cited} says of {row.thing}: {row.as_typed}"
        note(who.aircraft, who.person, "source", said, bays, "sources")
        return Response(page(who.aircraft), status=201)


def put_value(row: Statement, given: dict[str, Any]) -> None:
    row.as_typed = given["value"].strip()
    if row.kind == "count":
        if not row.as_typed.isdigit():
            raise Refused("value", "a count is a whole number")
        row.lo = row.hi = float(row.as_typed)
        return
    if not given["dimension"]:
        raise Refused("dimension", "say what is measured: " + ", ".join(DIMENSIONS))
    row.dimension = given["dimension"]
    unit = {"length": "mm", "angle": "deg", "torque": "Nm"}.get(row.dimension)
    first = unit or next(iter(DIMENSIONS[row.dimension].pint_names))
    typed = parse_range(row.as_typed, row.dimension, first, "value")
    row.lo, row.hi, row.unit, row.resolution = typed.lo, typed.hi, typed.unit, typed.resolution


def source_of(a: Aircraft, key: int) -> Source:
    """A document of this aircraft; refuses another."""
    found = Source.objects.filter(aircraft=a, pk=key).first()
    if found is None:
        raise Refused("source", "is not one of this aircraft's documents")
    return found


class ResolveView(APIView):
    """Deciding between documents: a ledger entry."""

    @extend_schema(request=ResolveIn, responses=answer(SourcesShown, 201))
    def post(self, request: Request, slug: str) -> Response:
        """Choose a statement (by its key) or write an own value, with the reason."""
        who = member(request, slug, "change facts")
        given = checked(ResolveIn, request)
        if len(given["reason"].strip()) < LEAST_REASON:
            raise Refused("reason", f"say who answered and what, in {LEAST_REASON} characters")
        with transaction.atomic():
            Aircraft.objects.select_for_update().get(pk=who.aircraft_id)
            found = next(
                (
                    g
                    for g in groups([who.aircraft_id])
                    if g.thing.casefold() == given["thing"].casefold()
                ),
                None,
            )
            if found is None:
                raise Refused("thing", "is not something that two documents speak of")
            kind = given["chosen"].partition(":")[0]
            if kind in registry.deciders:
                registry.deciders[kind](who, given["chosen"], given["reason"])
            else:
                _resolve(who, found, given)
            return Response(page(Aircraft.objects.get(pk=who.aircraft_id)), status=201)


def _resolve(who: Member, g: Group, given: dict[str, Any]) -> None:
    side = next((s for s in g.sides if s.key == given["chosen"]), None)
    chosen = f"{side.cited}: {side.shown}" if side else f"own value: {given['chosen']}"
    now = datetime.now(UTC)
    Resolution.objects.create(
        aircraft=who.aircraft,
        thing=g.thing,
        chosen=chosen,
        reason=given["reason"].strip(),
        seen=seen(g.sides),
        by=who.person,
        at=now,
    )
    scope = f"source:{g.thing}"[:80]
    body = {
        "at": now.strftime("%Y-%m-%dT%H:%M:%SZ"),
        "by": who.person.slug,
        "scope": scope,
        "chosen": chosen,
        "seen": seen(g.sides),
        "reason": given["reason"].strip(),
    }
    append(who.aircraft, "resolution", scope, who.person, body)
    bays = [s.bay for s in g.sides[:1]]
    note(who.aircraft, who.person, "source", f"Decided: {g.thing}: {chosen}", bays, "sources")


class DocumentView(APIView):
    """A new revision of a document."""

    @extend_schema(request=ReviseIn, responses=answer(SourcesShown))
    def patch(self, request: Request, slug: str, source: int) -> Response:
        """What was signed or decided under the old one goes stale."""
        who = member(request, slug, "change facts")
        given = checked(ReviseIn, request)
        with transaction.atomic():
            row = Source.objects.select_for_update().filter(aircraft=who.aircraft, pk=source)
            found = row.first()
            if found is None:
                raise Http404
            theirs = {"title": found.title, "revision": found.revision}
            check_version(found, given["version"], theirs, given)
            was = found.cited
            found.revision, found.dated = given["revision"], given["dated"]
            found.version, found.changed_by = found.version + 1, who.person
            found.save()
            for told in registry.revised:
                told(who.aircraft, found)
            said = f"{was} is now rev {found.revision}"
            note(who.aircraft, who.person, "source", said, (), "sources")
            return Response(page(who.aircraft))


class DirectivesView(APIView):
    """Entering a bulletin."""

    @extend_schema(request=DirectiveIn, responses=answer(SourcesShown, 201))
    def post(self, request: Request, slug: str) -> Response:
        """With what it applies to, its steps, and when it is due."""
        who = member(request, slug, "change facts")
        given = checked(DirectiveIn, request)
        bays = set(Bay.objects.filter(aircraft=who.aircraft).values_list("slug", flat=True))
        for bay in given["bays"]:
            if bay not in bays:
                raise Refused("bays", f"{bay} is not a bay of this aircraft")
        d = Directive(
            aircraft=who.aircraft,
            changed_by=who.person,
            source=source_of(who.aircraft, given["source"]),
            applies=applies_of(given["applies"]),
            **{k: v for k, v in given.items() if k not in ("source", "applies")},
        )
        stands(d, [], date.today())
        d.save()
        note(who.aircraft, who.person, "directive", f"Bulletin: {d.title}", d.bays, "sources")
        return Response(page(who.aircraft), status=201)


def applies_of(typed: str) -> list[dict[str, Any]]:
    """`model=Fenlark, serial=12..88; pump=P-30` as rows; refuses what is not key=value."""
    rows = []
    for part in (p for p in typed.split(";") if p.strip()):
        row: dict[str, Any] = {}
        for pair in part.split(","):
            key, equals, value = (x.strip() for x in pair.partition("="))
            if not key or not equals or not value:
                raise Refused("applies", f"{pair.strip()!r} is not key=value")
            low, dots, high = value.partition("..")
            row[key] = [_value(low), _value(high)] if dots else _value(value)
        rows.append(row)
    if not rows:
        raise Refused("applies", "must say what it applies to, such as serial=12..88")
    return rows


def _value(text: str) -> Any:
    said = text.strip()
    return int(said) if said.lstrip("-").isdigit() else said


class ComplyView(APIView):
    """A bulletin was done, or deviated from."""

    @extend_schema(request=ComplyIn, responses=answer(SourcesShown, 201))
    def post(self, request: Request, slug: str, directive: int) -> Response:
        """A deviation needs approval, reference and reason, and is a ledger entry."""
        who = member(request, slug, "change facts")
        given = checked(ComplyIn, request)
        if given["done_on"] > date.today():
            raise Refused("done_on", "lies in the future")
        with transaction.atomic():
            aircraft = Aircraft.objects.select_for_update().get(pk=who.aircraft_id)
            d = Directive.objects.filter(aircraft=aircraft, pk=directive).first()
            if d is None:
                raise Http404
            deviation = _deviation(given) if given["deviation"] else None
            Compliance.objects.create(
                directive=d,
                done_on=given["done_on"],
                hours=given["hours"],
                note=given["note"],
                deviation=deviation,
                by=who.person,
                at=datetime.now(UTC),
            )
            if deviation:
                scope = f"directive:{d.pk}"
                body = {
                    "at": datetime.now(UTC).strftime("%Y-%m-%dT%H:%M:%SZ"),
                    "by": who.person.slug,
                    "scope": scope,
                    "directive": d.title,
                    **deviation,
                }
                append(aircraft, "deviation", scope, who.person, body)
            said = f"Bulletin {'deviated from' if deviation else 'done'}: {d.title}"
            note(aircraft, who.person, "directive", said, d.bays, "sources", not deviation)
            return Response(page(aircraft), status=201)


def _deviation(given: dict[str, Any]) -> dict[str, str]:
    for field in ("approved_by", "reference", "reason"):
        if not given[field].strip():
            raise Refused(field, "is needed for a deviation")
    return {
        "approved_by": given["approved_by"],
        "reference": given["reference"],
        "reason": given["reason"],
        "date": given["done_on"].isoformat(),
    }
