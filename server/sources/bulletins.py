"""Bulletins: entered, done, deviated from."""

from __future__ import annotations

from collections.abc import Iterable
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
from server.kit.removing import also_stands, counted, one_of, reason_of, removal
from server.kit.writing import Act, Write, writes
from server.signoff.ledger import append
from server.sources.directives import stands
from server.sources.models import Compliance, Directive
from server.sources.page import SourcesShown, applies_typed, page
from server.sources.statements import source_of


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

    warn_hours = serializers.FloatField(required=False, default=10, min_value=0)
    warn_days = serializers.IntegerField(required=False, default=30, min_value=0, max_value=3650)


class DirectiveChangeIn(DirectiveIn):
    """It corrected, with what was wrong."""

    version = serializers.IntegerField()
    reason = Text(max_length=200)


# What is put on a bulletin as it was sent.
PLAIN = (
    "title",
    "bays",
    "steps",
    "first_hours",
    "first_on",
    "every_hours",
    "every_months",
    "warn_hours",
    "warn_days",
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


def put(d: Directive, given: dict[str, Any], done: list[Compliance]) -> None:
    """What was typed, on a bulletin; refuses by field what cannot be."""
    bays = set(Bay.objects.filter(aircraft=d.aircraft).values_list("slug", flat=True))
    for bay in given["bays"]:
        if bay not in bays:
            raise Refused("bays", f"{bay} is not a bay of this aircraft")
    d.source = source_of(d.aircraft, given["source"])
    d.applies = applies_of(given["applies"])
    for field in PLAIN:
        setattr(d, field, given[field])
    stands(d, done, date.today())


def _entered(act: Act) -> None:
    d = act.subject
    put(d, act.given, [])
    d.save()
    note(d.aircraft, act.who.person, "directive", f"Bulletin: {d.title}", d.bays, "sources")


def _corrected(act: Act) -> None:
    d = act.subject
    was, bays = _asks(d), d.bays
    reason = reason_of(act.given, "why it is corrected")
    put(d, act.given, list(d.compliances.all()))
    d._change_reason = reason
    d.version, d.changed_by = d.version + 1, act.who.person
    d.save()
    now = _asks(d)
    told = f"{was} is now {now}" if was != now else d.title
    said = f"Bulletin corrected: {told}, because {reason}"
    bays = sorted({*bays, *d.bays})
    note(d.aircraft, act.who.person, "directive", said, bays, "sources")


def _asks(d: Directive) -> str:
    """A bulletin with what it applies to and when it is due."""
    times = [
        f"first at {d.first_hours:g} h" if d.first_hours is not None else "",
        f"first on {d.first_on.isoformat()}" if d.first_on else "",
        f"every {d.every_hours:g} h" if d.every_hours is not None else "",
        f"every {d.every_months} months" if d.every_months is not None else "",
    ]
    return f"{d.title} ({', '.join([applies_typed(d.applies), *(t for t in times if t)])})"


@also_stands
def in_bays(kind: str, row: Any) -> Iterable[str]:
    """A bulletin names its bays by their addresses."""
    if kind == "bay":
        rows = Directive.objects.filter(aircraft=row.aircraft_id, bays__contains=[row.slug])
        yield from counted(rows.count(), "bulletin")


class DirectivesView(APIView):
    """Entering a bulletin."""

    post = writes(
        Write(
            ("change facts",),
            DirectiveIn,
            lambda who, at: Directive(aircraft=who.aircraft, changed_by=who.person),
            _entered,
            lambda act: page(act.who.aircraft),
            SourcesShown,
        ),
        "With what it applies to, its steps, and when it is due.",
    )


class DirectiveView(APIView):
    """A bulletin misread or mistyped."""

    patch = writes(
        Write(
            ("change facts",),
            DirectiveChangeIn,
            one_of(Directive, "directive"),
            _corrected,
            lambda act: page(act.who.aircraft),
            SourcesShown,
            200,
            shown=lambda d: {"title": d.title, "applies": applies_typed(d.applies)},
        ),
        "Correct it: where it stands is worked out anew; 409 on an old version.",
    )


class DirectiveRemovalView(APIView):
    """Taking away a bulletin that nobody worked on."""

    post = writes(
        removal(
            "bulletin",
            one_of(Directive, "directive"),
            name=lambda d: str(d.title),
            before=lambda act, d: d.bays,
            link="sources",
        ),
        "Refused once it was done or deviated from; 409 on an old version.",
    )


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
