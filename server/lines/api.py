"""Lines: the list, one of them, its bend card to take away."""

from __future__ import annotations

import csv
import io
from collections.abc import Callable, Mapping
from typing import Any

from django.http import Http404, HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from server.aircraft.access import member
from server.aircraft.models import Aircraft, Member
from server.aircraft.slugs import slug_for
from server.config.cells import cell
from server.config.forms import checked
from server.config.shapes import answer
from server.journal.writing import changed, note
from server.kit.placing import boxes_of
from server.kit.records import held, take_back
from server.kit.removing import reason_of, removal
from server.kit.standing import of_subjects
from server.kit.writing import Act, Write, writes
from server.lines import forms, shapes
from server.lines.entering import figures_told, line_of, put, told
from server.lines.testing import events_of, record, said_of, worked
from server.runs.models import Run
from server.runs.places import bays_of_run

COLUMNS = (
    "bend", "mark mm", "angle deg", "bend to deg", "radius mm", "bend plane turns deg",
    "tube turns deg",
)  # fmt: skip


def run_of(aircraft: Aircraft, slug: str) -> Run:
    """A run of this aircraft, or 404."""
    found = Run.objects.select_related("source").filter(aircraft=aircraft, slug=slug).first()
    if found is None:
        raise Http404
    found.aircraft = aircraft
    return found


def _locked(who: Member, at: Mapping[str, Any]) -> Run:
    """The run of an address, locked."""
    rows = Run.objects.select_for_update()
    found = rows.filter(aircraft=who.aircraft, slug=at["line"]).first()
    if found is None:
        raise Http404
    found.aircraft = who.aircraft
    return found


def _bays(r: Run) -> tuple[str, ...]:
    return bays_of_run(r, boxes_of(r.aircraft_id))


def _tell(act: Act, said: str, bays: set[str], work: bool = False) -> None:
    r = act.subject
    link = f"lines?line={r.slug}"
    note(act.who.aircraft, act.who.person, "line", f"{r.name}: {said}", sorted(bays), link, work)


def _enter(act: Act) -> None:
    r = act.subject
    put(r, act.given)
    r.slug = slug_for(Run, act.who.aircraft, r.name)
    r.save()
    _tell(act, "line entered", set(_bays(r)))


def _change(act: Act) -> None:
    """Told with what it was; a maker's figure has a reason; another tube is tested again."""
    r = act.subject
    bays, was, maker, tube = set(_bays(r)), told(r), figures_told(r), _made_of(r)
    put(r, act.given)
    said = changed(was, told(r))
    # What is a limit comes first, with its reason: a line of the journal has an end.
    if limits := changed(maker, figures_told(r)):
        why = reason_of(act.given, "why the maker's figure is changed")
        said = "; ".join(x for x in (f"{limits}, because {why}", said) if x)
    r.version, r.changed_by = r.version + 1, act.who.person
    r.save()
    standing = held(events_of(r))
    if _made_of(r) != tube and standing and standing[-1].doing == "leak test":
        record(r, "opened", {}, act.who.person, "the tube was changed")
    _tell(act, said or "kept as it was", bays | set(_bays(r)))


def _made_of(r: Run) -> tuple[Any, ...]:
    """What makes it this tube and no other."""
    return r.points_m, r.figures["radii_m"], r.od_m, r.material, r.service


def _answer(act: Act) -> shapes.LineShown:
    return shapes.shown(act.subject)


class LinesView(APIView):
    """The lines of an aircraft."""

    @extend_schema(responses=answer(shapes.LinesPage))
    def get(self, request: Request, slug: str) -> Response:
        """All of them, with what stands against each."""
        who = member(request, slug)
        rows = list(Run.objects.filter(aircraft=who.aircraft))
        kept = of_subjects(who.aircraft_id, "lines", [r.slug for r in rows])
        found = [shapes.row(r, kept.get(r.slug, [])) for r in rows]
        return Response(shapes.LinesPage(count=len(found), results=found))

    post = writes(
        Write(
            ("measure",),
            forms.LineIn,
            lambda who, at: Run(aircraft=who.aircraft, changed_by=who.person),
            _enter,
            _answer,
            shapes.LineShown,
        ),
        "A new tube, with its bend card.",
    )


class LineView(APIView):
    """One line."""

    @extend_schema(responses=answer(shapes.LineShown))
    def get(self, request: Request, slug: str, line: str) -> Response:
        """With all that was entered, its card and its checks."""
        return Response(shapes.shown(run_of(member(request, slug).aircraft, line)))

    patch = writes(
        Write(
            ("measure",),
            forms.LineIn,
            _locked,
            _change,
            _answer,
            shapes.LineShown,
            200,
            shown=shapes.shown,
        ),
        "Change it; 409 with both sides on an old version.",
    )


def _test(act: Act) -> None:
    typed = {k: v for k, v in act.given.items() if k != "note"}
    e = record(act.subject, "leak test", typed, act.who.person, act.given["note"])
    _tell(act, f"leak test: {said_of(e)}", set(_bays(act.subject)), True)


def _open(act: Act) -> None:
    record(act.subject, "opened", {}, act.who.person, act.given["note"])
    _tell(act, "opened", set(_bays(act.subject)), True)


def _undo(act: Act) -> None:
    events = events_of(act.subject)
    found = next((e for e in events if e.pk == int(act.at["event"])), None)
    if found is None:
        raise Http404
    take_back(found, events, act.who.person, said_of(found), run=act.subject)
    _tell(act, f"taken back: {found.doing}", set(_bays(act.subject)), True)


def _on_line(form: Any, do: Callable[[Act], None]) -> Write:
    return Write(("measure",), form, _locked, do, _answer, shapes.LineShown)


class LeakTestsView(APIView):
    """Testing a line for leaks."""

    post = writes(_on_line(forms.LeakIn, _test), "Keep a test, worked out with its uncertainty.")


class LeakTryView(APIView):
    """A leak test that is not kept."""

    stateless = True

    @extend_schema(request=forms.LeakIn, responses=answer(shapes.LeakShown))
    def post(self, request: Request, slug: str) -> Response:
        """What it shows, and how long it must last; saves nothing."""
        member(request, slug)
        given = dict(checked(forms.LeakIn, request))
        given.pop("note")
        return Response(shapes.leak_shown(*worked(given)))


class LineOpenedView(APIView):
    """A line that was opened."""

    post = writes(_on_line(forms.OpenedIn, _open), "Its last leak test is stale from now on.")


class LineUndoView(APIView):
    """Taking back the last thing done."""

    post = writes(_on_line(None, _undo), "It is kept as taken back.")


class LineRemovalView(APIView):
    """Taking a line away."""

    post = writes(
        removal(
            "line",
            _locked,
            before=lambda act, r: _bays(r),
            may="measure",
            link="lines",
        ),
        "With its version and the reason; it stays in the record.",
    )


class LineCardView(APIView):
    """The bend card as CSV."""

    @extend_schema(responses={(200, "text/csv"): OpenApiTypes.STR})
    def get(self, request: Request, slug: str, line: str) -> HttpResponse:
        """Marks, angles and turns, mm and degrees."""
        r = run_of(member(request, slug).aircraft, line)
        card = shapes.card_shown(line_of(r))
        out = io.StringIO()
        table = csv.writer(out)
        table.writerow([cell(r.name), f"cut {card['cut_mm']:.1f} mm"])
        table.writerow(COLUMNS)
        for b in card["bends"]:
            turns = (b["plane_turns_deg"], b["tube_turns_deg"])
            table.writerow(
                [
                    b["number"],
                    f"{b['mark_mm']:.1f}",
                    f"{b['angle_deg']:.1f}",
                    f"{b['bend_to_deg']:.1f}",
                    f"{b['radius_mm']:.1f}",
                    *("" if t is None else f"{t:.1f}" for t in turns),
                ]
            )
        name = f'attachment; filename="{slug}-{line}-bend-card.csv"'
        return HttpResponse(
            out.getvalue(),
            content_type="text/csv; charset=utf-8",
            headers={"Content-Disposition": name},
        )
