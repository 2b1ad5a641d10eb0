"""Weight and balance: its rows, what is done at a weighing, what is tried."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from django.http import Http404, HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from core.basis.quantities import parse
from core.basis.refused import Refused
from core.weight.book import Book, Row
from core.weight.checks import judged
from core.weight.entry import refuse, settled
from core.weight.lists import LISTS
from core.weight.rows import STATION, STEP_WORDS, TANK
from core.worksheets.kinds import run
from server.aircraft.access import member
from server.config.cells import csv_file
from server.config.forms import checked
from server.config.shapes import answer
from server.kit.records import take_back
from server.kit.writing import Act, writes
from server.weight import forms, shapes
from server.weight.models import WeightEvent, WeightRow
from server.weight.reading import book_of, read_kept
from server.weight.steps import capture, record, series_of, step_said, weighing_of
from server.weight.trade import follow
from server.worksheets.rows import Rows


def _refuse(r: WeightRow, row: Row) -> None:
    """What cannot be among the other rows."""
    refuse(book_of(r.aircraft, r), row)


ENTERED = Rows(
    WeightRow,
    forms.WeightIn,
    read_kept,
    _refuse,
    lambda r: f"weight?part={r.of.part}&row={r.slug}",
    shapes.WeightRowShown,
    shapes.shown,
    shapes.WeightPage,
    shapes.page,
    follow=follow,
    what="row of weight and balance",
    page="weight",
    journal="weight",
    key="entry",
)


WeightView = ENTERED.all_view(
    "Weight and balance of an aircraft.",
    "All rows as they stand, the kinds there are, and what follows from them.",
    "A new row of any kind.",
)
WeightRowView = ENTERED.row_view("One row.")
WeightPastedView = ENTERED.pasted_view(
    "Many rows at once.", forms.WeightRowsIn, lambda given: str(given["kind"])
)
WeightRemovalView = ENTERED.removal_view("weight")


def _do(act: Act) -> None:
    e = record(act.subject, act.given, act.who.person)
    ENTERED.tell(act, act.subject, step_said(e), work=True)


def _undo(act: Act) -> None:
    events = list(WeightEvent.objects.filter(row=act.subject).order_by("id"))
    found = next((e for e in events if e.pk == int(act.at["event"])), None)
    if found is None:
        raise Http404
    said = STEP_WORDS[found.doing]
    take_back(found, events, act.who.person, said, row=act.subject)
    ENTERED.tell(act, act.subject, f"taken back: {step_said(found)}", work=True)


def _capture(act: Act) -> None:
    events = capture(act.subject, act.given["scales"], act.who.person)
    ENTERED.tell(act, act.subject, "; ".join(step_said(e) for e in events), work=True)


class WeighStepsView(APIView):
    """What is done at a weighing."""

    post = writes(ENTERED.write(forms.WeighIn, _do), "Something prepared, or a scale read by hand.")


class WeighCaptureView(APIView):
    """All scales of a weighing, read live."""

    post = writes(
        ENTERED.write(forms.ScalesIn, _capture),
        "Kept when all have settled together; otherwise nothing of it is.",
    )


class WeighUndoView(APIView):
    """Taking back the last thing done at a weighing."""

    post = writes(ENTERED.write(None, _undo), "It is kept as taken back.")


class WeighSettlingView(APIView):
    """Scales read live, not kept."""

    stateless = True

    @extend_schema(request=forms.ScalesIn, responses=answer(list[shapes.SettlingShown]))
    def post(self, request: Request, slug: str, entry: str) -> Response:
        """Whether each has settled, and what may be taken of it."""
        who = member(request, slug)
        series = series_of(checked(forms.ScalesIn, request)["scales"])
        b, w = weighing_of(row_at(who, entry))
        found = settled(b, w, series)
        return Response([_settling(wheel, one) for wheel, one in found.items()])


def row_at(who: Any, slug: str) -> WeightRow:
    """The row of an address, not locked."""
    found = WeightRow.objects.filter(aircraft=who.aircraft, slug=slug).first()
    if found is None:
        raise Http404
    found.aircraft = who.aircraft
    return found


def _settling(wheel: str, one: dict[str, Any]) -> shapes.SettlingShown:
    return shapes.SettlingShown(
        wheel=wheel,
        settled=one["settled"],
        reason=one.get("reason", ""),
        kg=one.get("value_kg"),
        u=one.get("u_kg"),
        creeping=bool(one["creeping"]),
    )


class WeightTryView(APIView):
    """A row that is not kept."""

    stateless = True

    @extend_schema(request=forms.TrialIn, responses=answer(shapes.WeightTried))
    def post(self, request: Request, slug: str) -> Response:
        """What would be said of it; saves nothing."""
        aircraft = member(request, slug).aircraft
        given = checked(forms.TrialIn, request)
        if not isinstance(given["typed"], dict):
            raise Refused("typed", "must be the fields of its kind")
        was = WeightRow.objects.filter(aircraft=aircraft, slug=given["row"]).first()
        r = WeightRow(
            aircraft=aircraft, kind=given["kind"], typed=given["typed"],
            name=was.name if was else "this", slug=was.slug if was else "",
        )  # fmt: skip
        b = book_of(aircraft, r)
        row = next(x for x in b.rows if x.slug == r.slug)
        log = read_kept(was).log if was and was.kind == r.kind else ()
        one = replace(row, log=log)
        whole = Book(tuple(one if x.slug == r.slug else x for x in b.rows))
        refuse(whole, one)
        return Response(shapes.tried(whole, one, judged(whole, one)))


class WeightDatumView(APIView):
    """Another datum."""

    @extend_schema(
        parameters=[OpenApiParameter("at", str, description="Where it would lie, as typed.")],
        responses=answer(shapes.DatumShown),
    )
    def get(self, request: Request, slug: str) -> Response:
        """The empty aircraft, the envelope and the stations against it; nothing is changed."""
        aircraft = member(request, slug).aircraft
        at = request.query_params.get("at", "")
        d = parse(at, "length", aircraft.length_unit, "at").si
        b = book_of(aircraft)
        empty = b.empty or {"mass_kg": 1.0, "x_m": 0.0}
        asked = {"mass_kg": empty["mass_kg"], "x_m": empty["x_m"], "new_datum_at_m": d}
        envelope = b.envelope
        found = run("weight.datum_shift", asked | ({"envelope": envelope} if envelope else {}))
        arms = 1e3 if envelope and envelope["plane"] == "arm" else 1.0
        return Response(
            shapes.DatumShown(
                new_datum_mm=d * 1e3,
                kg=b.empty["mass_kg"] if b.empty else None,
                x_mm=found["x_m"] * 1e3 if b.empty else None,
                moment=found["moment_kg_m"] if b.empty else None,
                corners=[[a * arms, m] for a, m in found["points"]],
                stations=[
                    [r.name, (r.values["x_m"] - d) * 1e3]
                    for r in (*b.of(STATION), *b.of(TANK)) if "x_m" in r.values
                ],
            )
        )  # fmt: skip


class WeightListView(APIView):
    """Equipment, stations, parts or loadings as CSV."""

    @extend_schema(responses={(200, "text/csv"): OpenApiTypes.STR})
    def get(self, request: Request, slug: str, listed: str) -> HttpResponse:
        """Every cell safe in a spreadsheet."""
        if listed not in LISTS:
            raise Http404
        lines = LISTS[listed](book_of(member(request, slug).aircraft))
        return csv_file(f"{slug}-{listed}", lines)
