"""Clearances: rows, near pairs, what is done to them, what is tried."""

from __future__ import annotations

from typing import Any

from django.http import Http404, HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from core.basis.quantities import parse_many
from core.basis.refused import Refused
from core.clearance.entry import refuse
from core.clearance.rows import DOINGS
from core.clearance.scene import Row
from server.aircraft.access import member
from server.clearance import forms, shapes
from server.clearance.models import ClearanceRow, PairEvent
from server.clearance.reading import row_of, scene_of
from server.clearance.steps import record, said_of
from server.clearance.trade import bays_of, follow
from server.config.cells import csv_file
from server.config.forms import checked
from server.config.shapes import answer
from server.journal.writing import note
from server.kit.placing import boxes_of, nearest_bay
from server.kit.records import take_back
from server.kit.writing import Act, Write, writes
from server.worksheets.rows import Rows

MOST_CORNERS = 200


def _refuse(r: ClearanceRow, row: Row) -> None:
    """What cannot be among the other rows."""
    refuse(scene_of(r.aircraft, r), row)


ENTERED = Rows(
    ClearanceRow,
    forms.ClearanceIn,
    row_of,
    _refuse,
    lambda r: f"clearance?part={r.of.part}&row={r.slug}",
    shapes.ClearanceRowShown,
    shapes.shown,
    shapes.ClearancePage,
    shapes.page,
    bays=bays_of,
    follow=follow,
    what="row of clearances",
    page="clearance",
    journal="clearance",
    key="shape",
)


ClearanceView = ENTERED.all_view(
    "Clearances of an aircraft.",
    "All rows, what takes room, and every pair that comes near.",
    "A new row of any kind.",
)
ClearanceRowView = ENTERED.row_view("One row.")
ClearancePastedView = ENTERED.pasted_view(
    "Many rows at once.", forms.ClearanceRowsIn, lambda given: str(given["kind"])
)
ClearanceRemovalView = ENTERED.removal_view("clearance")


def _tell(act: Act, e: PairEvent, said: str) -> None:
    """A line of the journal, in the bay of the place."""
    bays = nearest_bay(e.inputs["place_m"], boxes_of(act.who.aircraft.pk))
    note(act.who.aircraft, act.who.person, "clearance", said, bays,
         f"clearance?pair={e.pair}", True)  # fmt: skip


def _do(act: Act) -> None:
    e = record(act.subject, act.given, act.who.person)
    _tell(act, e, said_of(e))


def _undo(act: Act) -> None:
    event = PairEvent.objects.filter(aircraft=act.subject, pk=int(act.at["event"])).first()
    if event is None:
        raise Http404
    events = list(PairEvent.objects.filter(aircraft=act.subject, pair=event.pair).order_by("id"))
    take_back(event, events, act.who.person, DOINGS.get(event.doing, ""), pair=event.pair)
    _tell(act, event, f"taken back: {said_of(event)}")


def _aircraft(who: Any, at: Any) -> Any:
    """The aircraft, locked: what is done to its pairs is done one after the other."""
    found = type(who.aircraft).objects.select_for_update().get(pk=who.aircraft.pk)
    return found


def _last(act: Act) -> str:
    last = PairEvent.objects.filter(aircraft=act.subject).order_by("-id").first()
    return last.pair if last else ""


def _pair(act: Act) -> Any:
    """The pair to which the last thing was done."""
    return shapes.pair_now(act.who.aircraft, act.followed)


class ClearancePairsView(APIView):
    """A pair, and what is done to one."""

    @extend_schema(
        parameters=[OpenApiParameter("pair", str, description="Its key.")],
        responses=answer(shapes.PairShown),
    )
    def get(self, request: Request, slug: str) -> Response:
        """As it stands, near or not."""
        aircraft = member(request, slug).aircraft
        return Response(shapes.pair_now(aircraft, request.query_params.get("pair", "")))

    post = writes(
        Write(("measure",), forms.PairIn, _aircraft, _do, _pair, shapes.PairShown, done=_last),
        "Accepted with mitigation and reason, or measured by hand.",
    )


class ClearanceUndoView(APIView):
    """Taking back the last thing done to a pair."""

    post = writes(
        Write(("measure",), None, _aircraft, _undo, _pair, shapes.PairShown, done=_last),
        "It is kept as taken back.",
    )


class ClearanceFilmView(APIView):
    """A pair drawn large."""

    @extend_schema(
        parameters=[OpenApiParameter("pair", str, description="Its key.")],
        responses=answer(shapes.FilmShown),
    )
    def get(self, request: Request, slug: str) -> Response:
        """At its worst, and through each of what moves it."""
        aircraft = member(request, slug).aircraft
        return Response(shapes.film_shown(aircraft, request.query_params.get("pair", "")))


class ClearanceMoveView(APIView):
    """A line elsewhere."""

    stateless = True

    @extend_schema(request=forms.MoveIn, responses=answer(shapes.MovedShown))
    def post(self, request: Request, slug: str) -> Response:
        """What it would change; saves nothing."""
        aircraft = member(request, slug).aircraft
        given = checked(forms.MoveIn, request)
        found = [q.si for q in parse_many(given["corners"], "length", "mm", "corners")]
        if len(found) % 3 or not 6 <= len(found) <= 3 * MOST_CORNERS:
            raise Refused("corners", f"must be two to {MOST_CORNERS} points of three numbers")
        points = [found[n : n + 3] for n in range(0, len(found), 3)]
        return Response(shapes.moved_shown(aircraft, given["thing"], points))


class ClearanceListView(APIView):
    """Near pairs as CSV."""

    @extend_schema(responses={(200, "text/csv"): OpenApiTypes.STR})
    def get(self, request: Request, slug: str) -> HttpResponse:
        """Every cell safe in a spreadsheet."""
        found = shapes.page(member(request, slug).aircraft)
        head = ["one", "other", "gap mm", "not below mm", "at least mm", "verdict", "at",
                "station mm", "butt line mm", "water line mm", "distance from"]  # fmt: skip
        lines = [head]
        for p in found["pairs"]:
            figures: list[float | None] = [p["gap"], p["low"], p["rule"]]
            told = ["" if x is None else f"{x:g}" for x in figures]
            place = [f"{x:g}" for x in p["place"]] or ["", "", ""]
            verdict = p["state"] or p["verdict"]
            lines.append([p["a"], p["b"], *told, verdict, p["at"], *place, p["rule_said"]])
        return csv_file(f"{slug}-clearances", lines)
