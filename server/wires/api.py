"""The harness: its rows, what is done to wires, what is taken away."""

from __future__ import annotations

from django.http import Http404, HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from core.basis.quantities import parse
from core.wiring.harness import STEP_WORDS, WIRE
from core.wiring.harness_lists import cut_list, labels
from server.aircraft.access import member
from server.config.cells import csv_file
from server.config.shapes import answer
from server.kit.placing import boxes_of
from server.kit.records import take_back
from server.kit.writing import Act, writes
from server.wires import forms, shapes
from server.wires.entering import follow, read, refuse_among
from server.wires.models import HarnessRow, WireEvent
from server.wires.reading import harness_of
from server.wires.steps import record, step_said
from server.wires.trade import bays_of
from server.worksheets.rows import Rows


def _bays(r: HarnessRow) -> set[str]:
    """Where it lies as it is kept."""
    h, boxes = harness_of(r.aircraft), boxes_of(r.aircraft_id)
    row = next((x for x in h.rows if x.slug == r.slug), None)
    return set(bays_of(h, row, boxes)) if row else set()


ENTERED = Rows(
    HarnessRow,
    forms.HarnessIn,
    read,
    refuse_among,
    lambda r: f"wires?part=harness&row={r.slug}",
    shapes.RowShown,
    shapes.shown,
    shapes.HarnessPage,
    shapes.page,
    _bays,
    follow,
    what="row of the harness",
    page="wires?part=harness",
)


HarnessView = ENTERED.all_view(
    "The harness of an aircraft.",
    "All rows as they stand, and the kinds there are.",
    "A new circuit, wire, connector, bundle or bus.",
)
HarnessRowView = ENTERED.row_view("One row of the harness.")
WiresPastedView = ENTERED.pasted_view("Many wires at once.", forms.WiresIn, lambda given: WIRE)


def _do(act: Act) -> None:
    e = record(act.subject, act.given, act.who.person)
    ENTERED.tell(act, act.subject, step_said(e), work=True)


def _undo(act: Act) -> None:
    events = list(WireEvent.objects.filter(row=act.subject).order_by("id"))
    found = next((e for e in events if e.pk == int(act.at["event"])), None)
    if found is None:
        raise Http404
    take_back(found, events, act.who.person, STEP_WORDS[found.doing], row=act.subject)
    ENTERED.tell(act, act.subject, f"taken back: {STEP_WORDS[found.doing]}", work=True)


class WireStepsView(APIView):
    """What is done to a wire, a circuit or a bus."""

    post = writes(
        ENTERED.write(forms.StepIn, _do),
        "Run, terminated, tested, labelled; insulation; the first power, breaker by breaker.",
    )


class WireUndoView(APIView):
    """Taking back the last thing done."""

    post = writes(
        ENTERED.write(None, _undo),
        "It is kept as taken back.",
    )


HarnessRemovalView = ENTERED.removal_view("wire")


class HarnessSectionView(APIView):
    """A section through the aircraft."""

    @extend_schema(
        parameters=[OpenApiParameter("at", str, description="The station, as typed.")],
        responses=answer(shapes.SectionShown),
    )
    def get(self, request: Request, slug: str) -> Response:
        """Which bundles pass there with their wires, and what passes beside them."""
        aircraft = member(request, slug).aircraft
        typed = request.query_params.get("at", "")
        station = parse(typed, "length", aircraft.length_unit, "at").si
        return Response(shapes.section_shown(harness_of(aircraft), station))


LISTS = {"labels": labels, "cut-list": cut_list}


class HarnessListView(APIView):
    """Labels, or what to cut and order, as CSV."""

    @extend_schema(responses={(200, "text/csv"): OpenApiTypes.STR})
    def get(self, request: Request, slug: str, made: str) -> HttpResponse:
        """Every cell safe in a spreadsheet."""
        if made not in LISTS:
            raise Http404
        lines = LISTS[made](harness_of(member(request, slug).aircraft))
        return csv_file(f"{slug}-{made}", lines)
