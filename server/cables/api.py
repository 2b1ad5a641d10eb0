"""A control's cables: shown, changed as a whole, tried, worked on."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

from django.http import Http404, HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from core.basis.refused import Refused
from core.cables.reading import rigging_from
from core.cables.rigging import Rigged
from server.aircraft.access import check_version, member
from server.aircraft.models import Member
from server.cables import events, forms, measuring, rows, shapes
from server.cables.joints import drop_joints, keep_joints
from server.cables.keeping import file_of, keep
from server.cables.models import CableEvent, Loop
from server.cables.shown import rows as loop_rows
from server.cables.shown import shown, solved
from server.cables.today import tension_today
from server.cables.trade import would_shift
from server.config.forms import checked
from server.config.shapes import answer
from server.controls.lookup import control_of, lock
from server.controls.models import Control
from server.journal.writing import note
from server.kit.ports import controls
from server.kit.removing import removal
from server.kit.showing import shift_shown
from server.kit.writing import Act, Write, writes


def loop_of(control: Control) -> Loop:
    """The control's cables, or a refusal."""
    found = Loop.objects.filter(control=control).first()
    if found is None:
        raise Refused("cables", "this control has none yet: enter or import them first")
    found.aircraft, found.control = control.aircraft, control
    return found


def locked_control(who: Member, at: Mapping[str, Any]) -> Control:
    """The control of an address, locked."""
    found = control_of(who, at["control"])
    lock(found)
    return found


def locked_loop(who: Member, at: Mapping[str, Any]) -> Loop:
    """The cables of a control, which is locked with them."""
    return loop_of(locked_control(who, at))


def on_loop(form: Any, do: Callable[[Act], None], may: tuple[str, ...] = ("measure",)) -> Write:
    """A write on a control's cables: what the control's signature covers follows."""
    return Write(
        may,
        form,
        locked_loop,
        do,
        lambda act: shown(act.subject.control, Loop.objects.get(pk=act.subject.pk)),
        shapes.CablesShown,
        done=lambda act: controls().touched(act.subject.control),
    )


def _change(act: Act) -> None:
    control, given = act.subject, act.given
    loop = Loop.objects.filter(control=control).first()
    if loop is not None:
        check_version(loop, given["version"], file_of(loop), given["document"])
    _check_bodies(control, given["document"])
    loop = keep(control, given["document"], act.who.person, loop)
    keep_joints(loop, act.who.person)
    said = f"{control.name}: cables changed"
    note(act.who.aircraft, act.who.person, "rigging", said, (), events.link_of(loop))


def _answer(act: Act) -> shapes.CablesShown:
    return shown(act.subject, Loop.objects.get(control=act.subject))


class LoopsView(APIView):
    """The controls of an aircraft with their cables."""

    @extend_schema(responses=answer(shapes.LoopsPage))
    def get(self, request: Request, slug: str) -> Response:
        """All of them."""
        found = loop_rows(list(member(request, slug).aircraft.controls.all()))
        return Response(shapes.LoopsPage(count=len(found), results=found))


class CablesView(APIView):
    """One control's cables."""

    @extend_schema(responses=answer(shapes.CablesShown))
    def get(self, request: Request, slug: str, control: str) -> Response:
        """The file, solved over its travel, with its checks and all that was done."""
        found = control_of(member(request, slug), control)
        return Response(shown(found, Loop.objects.filter(control=found).first()))

    put = writes(
        Write(
            ("change facts",),
            forms.CablesIn,
            locked_control,
            _change,
            _answer,
            shapes.CablesShown,
            200,
            done=lambda act: controls().touched(act.subject),
        ),
        "Keep a whole file, checked; 409 with both sides on an old version.",
    )


class CablesRemovalView(APIView):
    """Taking a control's cables away."""

    post = writes(
        removal(
            "cables",
            locked_loop,
            name=lambda loop: str(loop.control.name),
            before=lambda act, loop: drop_joints(loop),
            done=lambda act: controls().touched(act.subject.control),
            link="controls",
        ),
        "Refused where anything was measured on them or done to them; 409 on an old version.",
    )


def _check_bodies(control: Control, data: Any) -> None:
    """Refuses a lever that names a body which the control's linkage has not."""
    rigging = rigging_from(data)
    there = controls().bodies(control)
    if there is None:
        return
    for field, body in zip(("driver.body", "driven.body"), rigging.bodies, strict=True):
        if body and body not in there:
            raise Refused(field, f"{body} is not a body of this control's linkage")


class WhatIfView(APIView):
    """What a change would do; saves nothing."""

    stateless = True

    @extend_schema(request=forms.CablesWhatIfIn, responses=answer(shapes.WhatIf))
    def post(self, request: Request, slug: str, control: str) -> Response:
        """Work out a changed file."""
        who = member(request, slug)
        found = control_of(who, control)
        given = checked(forms.CablesWhatIfIn, request)
        data = given["document"]
        if given["rows"].strip():
            data = rows.from_csv(data, given["rows"])
        rigged = Rigged(rigging_from(data))
        moved = [shift_shown(s) for s in would_shift(rigged, found)]
        return Response(shapes.WhatIf(document=data, solved=solved(rigged, found), shifts=moved))


class TodayView(APIView):
    """Tension today; saves nothing."""

    stateless = True

    @extend_schema(request=forms.TodayIn, responses=answer(shapes.TodayShown))
    def post(self, request: Request, slug: str, control: str) -> Response:
        """What to set, what is there, what to turn."""
        loop = loop_of(control_of(member(request, slug), control))
        given = checked(forms.TodayIn, request)
        at = measuring.temperature(given["temperature"]) if given["temperature"].strip() else None
        step = float(given["step"])
        return Response(tension_today(loop, at, given["mode"], given["use_learnt"], step))


def _record(act: Act) -> None:
    """Turned (one side, or A and B at once), safetied, slid on, pressed, a step ..."""
    loop, typed = act.subject, dict(act.given["typed"])
    for flag in ("meant", "fit"):
        if flag in typed:
            typed[flag] = typed[flag] == "yes"
    for side, one in _by_side(act.given, typed):
        events.record(loop, side, act.given["doing"], one, act.who.person, act.given["note"])


def _by_side(given: dict[str, Any], typed: dict[str, Any]) -> list[tuple[str, dict[str, Any]]]:
    """What was done on each side: turns of both turnbuckles come as one, by side."""
    if given["doing"] != "turned" or given["side"]:
        return [(given["side"], typed)]
    found = [(s, {"turns": typed[s]}) for s in ("A", "B") if str(typed.get(s, "")).strip()]
    if not found:
        raise Refused("typed", "say how far each turnbuckle was turned: A, B or both")
    return found


def _undo(act: Act) -> None:
    row = CableEvent.objects.filter(loop=act.subject, pk=act.at["event"]).first()
    if row is None:
        raise Http404
    events.undo(row, act.subject, act.who.person)


class EventsView(APIView):
    """What is done to the cables."""

    post = writes(
        on_loop(forms.CableEventIn, _record),
        "Keep it: turned (one side, or A and B at once), safetied, slid on, pressed, a step …",
    )


class UndoView(APIView):
    """Taking back the last thing done."""

    post = writes(on_loop(None, _undo), "It is kept as taken back.")


class FileView(APIView):
    """The cables file, to keep or to use elsewhere."""

    @extend_schema(responses={200: OpenApiTypes.OBJECT})
    def get(self, request: Request, slug: str, control: str) -> Response:
        """As JSON."""
        loop = loop_of(control_of(member(request, slug), control))
        name = f'attachment; filename="{slug}-{control}-cables.json"'
        return Response(file_of(loop), headers={"Content-Disposition": name})


class RowsView(APIView):
    """The supports as CSV."""

    @extend_schema(responses={(200, "text/csv"): OpenApiTypes.STR})
    def get(self, request: Request, slug: str, control: str) -> HttpResponse:
        """Pulleys, fairleads and guides of both sides, mm."""
        loop = loop_of(control_of(member(request, slug), control))
        name = f'attachment; filename="{slug}-{control}-supports.csv"'
        return HttpResponse(
            rows.to_csv(file_of(loop)),
            content_type="text/csv; charset=utf-8",
            headers={"Content-Disposition": name},
        )
