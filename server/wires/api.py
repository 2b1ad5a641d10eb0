"""The harness: its rows, what is done to wires, what is taken away."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Mapping
from typing import Any

from django.http import Http404, HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from core.basis.quantities import parse
from core.basis.refused import Refused
from core.wiring.harness import STEP_WORDS, WIRE
from core.wiring.harness_lists import cut_list, labels
from server.aircraft.access import member
from server.aircraft.models import Member
from server.aircraft.slugs import slug_for
from server.config.cells import cell
from server.config.shapes import answer
from server.journal.writing import changed, note
from server.kit.placing import boxes_of
from server.kit.records import take_back
from server.kit.removing import reason_of, removal
from server.kit.writing import Act, Write, writes
from server.wires import forms, shapes
from server.wires.entering import follow, put
from server.wires.models import HarnessRow, WireEvent
from server.wires.reading import harness_of
from server.wires.steps import record, step_said
from server.wires.trade import bays_of, limits_told, told


def locked(who: Member, at: Mapping[str, Any]) -> HarnessRow:
    """The row of an address, locked."""
    rows = HarnessRow.objects.select_for_update()
    found = rows.filter(aircraft=who.aircraft, slug=at["row"]).first()
    if found is None:
        raise Http404
    found.aircraft = who.aircraft
    return found


def _bays(r: HarnessRow) -> set[str]:
    """Where it lies as it is kept."""
    h, boxes = harness_of(r.aircraft), boxes_of(r.aircraft_id)
    row = next((x for x in h.rows if x.slug == r.slug), None)
    return set(bays_of(h, row, boxes)) if row else set()


def _tell(act: Act, r: HarnessRow, said: str, bays: Iterable[str], work: bool = False) -> None:
    link = f"wires?part=harness&row={r.slug}"
    text = f"{r.kind} {r.name}: {said}"
    note(act.who.aircraft, act.who.person, r.kind, text, sorted(bays), link, work)


def _enter(act: Act) -> None:
    r = act.subject
    put(r, act.given)
    r.slug = slug_for(HarnessRow, act.who.aircraft, r.name)
    r.save()
    _tell(act, r, "entered", _bays(r))


def _change(act: Act) -> None:
    """Told with what it was; a limit has a reason; those that name it follow its name."""
    r = act.subject
    bays, was, limits, name = _bays(r), told(r), limits_told(r), r.name
    put(r, act.given)
    said = changed(was, told(r))
    if other := changed(limits, limits_told(r)):
        why = reason_of(act.given, "why the limit is changed")
        said = "; ".join(x for x in (f"{other}, because {why}", said) if x)
    r.version, r.changed_by = r.version + 1, act.who.person
    r.save()
    if followed := follow(r, name, act.who.person):
        said += f"; {followed} that name it follow"
    _tell(act, r, said or "kept as it was", bays | _bays(r))


def _answer(act: Act) -> shapes.RowShown:
    return shapes.shown(act.who.aircraft, act.subject.slug)


class HarnessView(APIView):
    """The harness of an aircraft."""

    @extend_schema(responses=answer(shapes.HarnessPage))
    def get(self, request: Request, slug: str) -> Response:
        """All rows as they stand, and the kinds there are."""
        return Response(shapes.page(member(request, slug).aircraft))

    post = writes(
        Write(
            ("measure",),
            forms.HarnessIn,
            lambda who, at: HarnessRow(aircraft=who.aircraft, changed_by=who.person),
            _enter,
            _answer,
            shapes.RowShown,
        ),
        "A new circuit, wire, connector, bundle or bus.",
    )


class HarnessRowView(APIView):
    """One row of the harness."""

    @extend_schema(responses=answer(shapes.RowShown))
    def get(self, request: Request, slug: str, row: str) -> Response:
        """As it stands."""
        aircraft = member(request, slug).aircraft
        if not HarnessRow.objects.filter(aircraft=aircraft, slug=row).exists():
            raise Http404
        return Response(shapes.shown(aircraft, row))

    patch = writes(
        Write(
            ("measure",),
            forms.HarnessIn,
            locked,
            _change,
            _answer,
            shapes.RowShown,
            200,
            shown=lambda r: shapes.shown(r.aircraft, r.slug),
        ),
        "Change it; 409 with both sides on an old version.",
    )


def _paste(act: Act) -> None:
    """All or none: a refusal names the row."""
    for n, given in enumerate(act.given["rows"], 1):
        if not isinstance(given, dict) or not isinstance(given.get("name"), str):
            raise Refused("rows", f"row {n}: needs its name")
        typed = {k: v for k, v in given.items() if k != "name"}
        r = HarnessRow(aircraft=act.who.aircraft, changed_by=act.who.person)
        whole = {"kind": WIRE, "name": given["name"], "typed": typed, "source": None, "page": ""}
        try:
            put(r, whole)
        except Refused as refusal:
            raise Refused("rows", f"row {n}, {refusal.field}: {refusal.reason}") from None
        if len(r.name) > 60:
            raise Refused("rows", f"row {n}, name: at most 60 characters")
        r.slug = slug_for(HarnessRow, act.who.aircraft, r.name)
        r.save()
        _tell(act, r, "entered", _bays(r))
    if not act.given["rows"]:
        raise Refused("rows", "needs at least one")


class WiresPastedView(APIView):
    """Many wires at once."""

    post = writes(
        Write(
            ("measure",),
            forms.WiresIn,
            lambda who, at: who.aircraft,
            _paste,
            lambda act: shapes.page(act.who.aircraft),
            shapes.HarnessPage,
        ),
        "As pasted from a table: all of them, or none and which row is wrong.",
    )


def _do(act: Act) -> None:
    e = record(act.subject, act.given, act.who.person)
    _tell(act, act.subject, step_said(e), _bays(act.subject), True)


def _undo(act: Act) -> None:
    events = list(WireEvent.objects.filter(row=act.subject).order_by("id"))
    found = next((e for e in events if e.pk == int(act.at["event"])), None)
    if found is None:
        raise Http404
    take_back(found, events, act.who.person, STEP_WORDS[found.doing], row=act.subject)
    _tell(act, act.subject, f"taken back: {STEP_WORDS[found.doing]}", _bays(act.subject), True)


class WireStepsView(APIView):
    """What is done to a wire, a circuit or a bus."""

    post = writes(
        Write(("measure",), forms.StepIn, locked, _do, _answer, shapes.RowShown),
        "Run, terminated, tested, labelled; insulation; the first power, breaker by breaker.",
    )


class WireUndoView(APIView):
    """Taking back the last thing done."""

    post = writes(
        Write(("measure",), None, locked, _undo, _answer, shapes.RowShown),
        "It is kept as taken back.",
    )


class HarnessRemovalView(APIView):
    """Taking a row away."""

    post = writes(
        removal(
            "row of the harness",
            locked,
            before=lambda act, r: _bays(r),
            may="measure",
            link="wires?part=harness",
            journal="wire",
        ),
        "With its version and the reason; refused while others name it.",
    )


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
        out = io.StringIO()
        table = csv.writer(out)
        for line in LISTS[made](harness_of(member(request, slug).aircraft)):
            table.writerow([cell(x) for x in line])
        return HttpResponse(
            "\ufeff" + out.getvalue(),
            content_type="text/csv; charset=utf-8",
            headers={"Content-Disposition": f'attachment; filename="{slug}-{made}.csv"'},
        )
