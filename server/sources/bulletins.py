"""Bulletins: entered, done, deviated from."""

from __future__ import annotations

from datetime import UTC, date, datetime
from typing import Any

from django.db import transaction
from django.http import Http404
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from core.basis.quantities import whole
from core.basis.refused import Refused
from server.aircraft.access import member
from server.aircraft.models import Aircraft, Bay
from server.config.forms import Form, checked
from server.config.shapes import answer
from server.config.text import Text, text
from server.journal.writing import note
from server.signoff.ledger import append
from server.sources.api import source_of
from server.sources.directives import stands
from server.sources.models import Compliance, Directive
from server.sources.page import SourcesShown, page


class DirectiveIn(Form):
    """A bulletin."""

    title = Text(max_length=120)
    source = serializers.IntegerField()  # type: ignore[assignment]
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


class ComplyIn(Form):
    """Done, or a deviation with its approval."""

    done_on = serializers.DateField()
    hours = serializers.FloatField(min_value=0)
    note = text(300)
    deviation = serializers.BooleanField(required=False, default=False)
    approved_by = text(80)
    reference = text(80)
    reason = text(300)


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
    return said if (number := whole(said)) is None else number


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
