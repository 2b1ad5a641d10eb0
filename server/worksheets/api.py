"""Worksheets: those of a trade, one of them, working one out without keeping it."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import UTC, date, datetime
from typing import Any

from django.http import Http404
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from core.worksheets.kinds import kind_of
from server.aircraft.access import member
from server.aircraft.models import Member
from server.aircraft.slugs import slug_for
from server.config.forms import checked
from server.config.shapes import answer
from server.journal.writing import changed, note
from server.kit.placing import boxes_of
from server.kit.removing import reason_of, removal
from server.kit.writing import Act, Write, writes
from server.worksheets import forms, shapes
from server.worksheets.keeping import put, source_of, typed_of
from server.worksheets.models import Worksheet
from server.worksheets.working import bays_of, limits_told, told, worked


def locked(who: Member, at: Mapping[str, Any]) -> Worksheet:
    """The sheet of an address, held until the write is done."""
    rows = Worksheet.objects.select_for_update()
    found = rows.filter(aircraft=who.aircraft, slug=at["sheet"]).first()
    if found is None:
        raise Http404
    found.aircraft = who.aircraft
    return found


def bays_now(w: Worksheet) -> set[str]:
    """Where it stands."""
    return set(bays_of(w, tuple(b.id for b in boxes_of(w.aircraft_id))))


def tell(act: Act, said: str, bays: set[str]) -> None:
    """In the record, in its bays."""
    w = act.subject
    words = f"{w.of.title}, {w.name}: {said}"
    note(act.who.aircraft, act.who.person, "worksheet", words, sorted(bays), w.link)


def _enter(act: Act) -> None:
    w = act.subject
    put(w, act.given)
    w.slug = slug_for(Worksheet, act.who.aircraft, w.name)
    w.changed_at = datetime.now(UTC)
    w.save()
    tell(act, "entered", bays_now(w))


def _change(act: Act) -> None:
    """Told with what it was; a limit or its document has a reason."""
    w = act.subject
    bays, was, limits = bays_now(w), told(w), limits_told(w)
    put(w, act.given)
    said = changed(was, told(w))
    if other := changed(limits, limits_told(w)):
        why = reason_of(act.given, "why the limit is changed")
        said = "; ".join(x for x in (f"{other}, because {why}", said) if x)
    w.version, w.changed_by = w.version + 1, act.who.person
    w.save()
    tell(act, said or "kept as it was", bays | bays_now(w))


def shown_now(act: Act) -> shapes.SheetShown:
    """The sheet as it is after a write."""
    return shapes.shown(act.subject)


class WorksheetsView(APIView):
    """Worksheets of an aircraft."""

    @extend_schema(
        parameters=[OpenApiParameter("trade", str, description="Whose sheets and kinds.")],
        responses=answer(shapes.SheetsPage),
    )
    def get(self, request: Request, slug: str) -> Response:
        """Those of a trade with what stands against each, and the kinds there are."""
        who = member(request, slug)
        return Response(shapes.page(who.aircraft_id, request.query_params.get("trade", "")))

    post = writes(
        Write(
            ("measure",),
            forms.SheetIn,
            lambda who, at: Worksheet(aircraft=who.aircraft, changed_by=who.person),
            _enter,
            shown_now,
            shapes.SheetShown,
        ),
        "A new sheet, worked out and kept.",
    )


class WorksheetView(APIView):
    """One worksheet."""

    @extend_schema(responses=answer(shapes.SheetShown))
    def get(self, request: Request, slug: str, sheet: str) -> Response:
        """With all that was entered and what the rules say of it."""
        who = member(request, slug)
        rows = Worksheet.objects.select_related("source", "aircraft")
        found = rows.filter(aircraft=who.aircraft, slug=sheet).first()
        if found is None:
            raise Http404
        return Response(shapes.shown(found))

    patch = writes(
        Write(
            ("measure",),
            forms.SheetIn,
            locked,
            _change,
            shown_now,
            shapes.SheetShown,
            200,
            shown=shapes.shown,
        ),
        "Change it; 409 with both sides on an old version.",
    )


class WorksheetTryView(APIView):
    """A worksheet that is not kept."""

    stateless = True

    @extend_schema(request=forms.TryIn, responses=answer(shapes.WorkedShown))
    def post(self, request: Request, slug: str) -> Response:
        """What the rules say of it; saves nothing."""
        who = member(request, slug)
        given = checked(forms.TryIn, request)
        kind = kind_of(given["kind"])
        source = source_of(who.aircraft, given["source"])
        cited = ", ".join(x for x in (source.cited if source else "", given["page"]) if x)
        found = worked(who.aircraft, kind, "", typed_of(given), date.today(), cited)
        return Response(shapes.tried(found))


class WorksheetRemovalView(APIView):
    """Taking a worksheet away."""

    post = writes(
        removal("worksheet", locked, before=lambda act, w: bays_now(w), may="measure"),
        "With its version and the reason; it stays in the record.",
    )
