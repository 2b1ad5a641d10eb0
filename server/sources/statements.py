"""What a document says of one thing: entered, corrected, taken away."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from rest_framework import serializers
from rest_framework.views import APIView

from core.basis.quantities import DIMENSIONS, parse_range, whole
from core.basis.refused import Refused
from server.aircraft.access import bay_of
from server.aircraft.models import Aircraft, Source
from server.config.forms import Form
from server.config.text import Text, text
from server.journal.writing import note
from server.kit.removing import also_stands, counted, one_of, reason_of, removal
from server.kit.writing import Act, Write, writes
from server.sources.models import Resolution, Statement
from server.sources.page import SourcesShown, page, statement_shown

# What a bare number is in.
FIRST = {"length": "mm", "angle": "deg", "torque": "Nm"}


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


class StatementChangeIn(StatementIn):
    """It corrected, with what was wrong."""

    version = serializers.IntegerField()
    reason = Text(max_length=200)


def source_of(a: Aircraft, key: int) -> Source:
    """A document of this aircraft; refuses another."""
    found = Source.objects.filter(aircraft=a, pk=key).first()
    if found is None:
        raise Refused("source", "is not one of this aircraft's documents")
    return found


def put(row: Statement, given: dict[str, Any]) -> None:
    """What was typed, on a statement; refuses by field what cannot be."""
    if not given["thing"].strip():
        raise Refused("thing", "say of what")
    row.thing, row.page = given["thing"].strip(), given["page"]
    row.bay = bay_of(row.aircraft, given["bay"])
    row.source = source_of(row.aircraft, given["source"])
    row.kind, row.as_typed = given["kind"], given["value"].strip()
    row.dimension, row.unit, row.resolution = "", "", 0.0
    if row.kind == "count":
        if (counted := whole(row.as_typed)) is None or counted < 0:
            raise Refused("value", "a count is a whole number")
        row.lo = row.hi = float(counted)
        return
    if not given["dimension"]:
        raise Refused("dimension", "say what is measured: " + ", ".join(DIMENSIONS))
    row.dimension = given["dimension"]
    first = FIRST.get(row.dimension) or next(iter(DIMENSIONS[row.dimension].pint_names))
    typed = parse_range(row.as_typed, row.dimension, first, "value")
    row.lo, row.hi, row.unit, row.resolution = typed.lo, typed.hi, typed.unit, typed.resolution


def _entered(act: Act) -> None:
    row = act.subject
    put(row, act.given)
    row.save()
    said = f"{row.source.cited} says of {row.thing}: {row.as_typed}"
    note(row.aircraft, act.who.person, "source", said, _bays(row), "sources")


def _corrected(act: Act) -> None:
    row = act.subject
    was, bays = f"{row.thing}: {row.as_typed} ({row.source.cited})", _bays(row)
    reason = reason_of(act.given, "why it is corrected")
    put(row, act.given)
    row._change_reason = reason
    row.version, row.changed_by = row.version + 1, act.who.person
    row.save()
    became = f"{row.thing}: {row.as_typed} ({row.source.cited})"
    said = f"Statement corrected: {was} is now {became}, because {reason}"
    bays = sorted({*bays, *_bays(row)})
    note(row.aircraft, act.who.person, "source", said, bays, "sources")


def _bays(row: Statement) -> list[str]:
    return [row.bay.slug] if row.bay else []


def named(row: Statement) -> str:
    """A statement in a sentence."""
    return f"{row.thing} ({row.source.cited})"


@also_stands
def decided(kind: str, row: Any) -> Iterable[str]:
    """A decision that weighed a statement stands on it."""
    if kind == "statement":
        rows = Resolution.objects.filter(aircraft=row.aircraft_id)
        weighed = rows.filter(seen__has_key=f"statement:{row.pk}")
        yield from counted(weighed.count(), "decision")


class StatementsView(APIView):
    """Entering what a document says."""

    post = writes(
        Write(
            ("change facts",),
            StatementIn,
            lambda who, at: Statement(aircraft=who.aircraft, changed_by=who.person),
            _entered,
            lambda act: page(act.who.aircraft),
            SourcesShown,
        ),
        "A range with its unit, or a count; refused when the unit cannot be of that kind.",
    )


class StatementView(APIView):
    """What a document says, misread or mistyped."""

    patch = writes(
        Write(
            ("change facts",),
            StatementChangeIn,
            one_of(Statement, "statement"),
            _corrected,
            lambda act: page(act.who.aircraft),
            SourcesShown,
            200,
            shown=statement_shown,
        ),
        "Correct it: what was decided on it is asked again; 409 on an old version.",
    )


class StatementRemovalView(APIView):
    """Taking away what no document says."""

    post = writes(
        removal(
            "statement",
            one_of(Statement, "statement"),
            name=named,
            before=lambda act, row: _bays(row),
            link="sources",
        ),
        "Refused where a decision weighed it; 409 on an old version.",
    )
