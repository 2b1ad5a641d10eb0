"""Documents, what they say, where they disagree, and bulletins."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Any

from django.db import transaction
from django.http import Http404
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from core.basis.quantities import DIMENSIONS, parse_range, whole
from core.basis.refused import Refused
from core.signoff.gate import LEAST_REASON
from server.aircraft.access import bay_of, check_version, member
from server.aircraft.models import Aircraft, Member, Source
from server.config.forms import Form, checked
from server.config.shapes import answer
from server.config.text import Text, text
from server.journal.writing import note
from server.kit.removing import one_of, removal
from server.kit.writing import writes
from server.signoff.ledger import append
from server.sources.conflicts import Group, groups, seen
from server.sources.models import Resolution, Statement
from server.sources.page import SourcesShown, page
from server.sources.registry import registry


class StatementIn(Form):
    """What a document says of one thing."""

    thing = Text(max_length=120)
    bay = text(50)
    kind = serializers.ChoiceField(choices=["range", "count"])
    dimension = serializers.ChoiceField(
        choices=["", *DIMENSIONS], required=False, default="", allow_blank=True
    )
    value = Text(max_length=60)
    source = serializers.IntegerField()  # type: ignore[assignment]
    page = text(30)


class ResolveIn(Form):
    """Which statement counts, and why."""

    thing = Text(max_length=120)
    chosen = Text(max_length=120)
    reason = Text(max_length=300)


class ReviseIn(Form):
    """A new revision of a document."""

    version = serializers.IntegerField()
    revision = Text(max_length=20)
    dated = serializers.DateField(required=False, allow_null=True, default=None)


class SourcesPageView(APIView):
    """Everything about documents on one page."""

    @extend_schema(responses=answer(SourcesShown))
    def get(self, request: Request, slug: str) -> Response:
        """Documents, conflicts, odd tolerances, bulletins."""
        who = member(request, slug)
        return Response(page(who.aircraft))


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
        if (counted := whole(row.as_typed)) is None or counted < 0:
            raise Refused("value", "a count is a whole number")
        row.lo = row.hi = float(counted)
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
            found = _group_of(who, given["thing"])
            kind = given["chosen"].partition(":")[0]
            if kind in registry.deciders:
                # It locks its own rows first, and the aircraft after them.
                registry.deciders[kind](who, given["chosen"], given["reason"])
            if not found.decider:
                Aircraft.objects.select_for_update().get(pk=who.aircraft_id)
                _resolve(who, _group_of(who, given["thing"]), given)
            return Response(page(Aircraft.objects.get(pk=who.aircraft_id)), status=201)


def _group_of(who: Member, thing: str) -> Group:
    """What the documents say of this thing; refuses what fewer than two speak of."""
    for g in groups([who.aircraft_id]):
        if g.thing.casefold() == thing.casefold():
            return g
    raise Refused("thing", "is not something that two documents speak of")


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


class DocumentRemovalView(APIView):
    """Taking a document away that nothing cites."""

    post = writes(
        removal(
            "document",
            one_of(Source, "source"),
            name=lambda row: str(row.cited),
            link="sources",
        ),
        "Refused where anything cites it; 409 on an old version.",
    )
