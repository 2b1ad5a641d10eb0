"""Controls: the list, a sheet, and everything that is written on it."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import UTC, datetime
from typing import Any

from django.http import Http404
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.exceptions import PermissionDenied
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from core.basis.quantities import whole
from core.basis.refused import Refused
from server.aircraft.access import may, member
from server.aircraft.models import Member
from server.config.forms import checked
from server.config.problems import Conflict
from server.config.shapes import answer
from server.controls import forms, recording, shapes
from server.controls.documents import decide
from server.controls.facts import (
    judging,
    reading_shown,
    sheet,
)
from server.controls.lookup import control_of, lock
from server.controls.making import change_control
from server.controls.models import Control, Reading, Round, SenseCheck
from server.controls.writing import lock_ledger, on_control, tell
from server.kit.writing import Act, writes


class AssessView(APIView):
    """What a reading would mean; saves nothing."""

    stateless = True

    @extend_schema(request=forms.ReadingIn, responses=answer(shapes.Preview))
    def post(self, request: Request, slug: str, control: str) -> Response:
        """Understand what was typed and judge with it."""
        who = member(request, slug)
        given = checked(forms.ReadingIn, request)
        return Response(preview(control_of(who, control), given, who))


def preview(control: Control, given: dict[str, Any], who: Member) -> shapes.Preview:
    """What was understood, and the result of the position with it."""
    judged = judging(control)
    rows = recording.build(judged, given, who.person, who.role == "counselor")
    judged.take(rows)
    wanted = [
        r
        for r in judged.requirements
        if r.surface_id == rows[0].surface_id and r.position == given["position"]
    ]
    result = judged.results()[wanted[0].pk] if wanted else None
    items = [shapes.Understood(**u) for u in recording.understood(rows)]  # type: ignore[typeddict-item]
    return shapes.Preview(understood=items, result=result, said=", ".join(u["said"] for u in items))


def _measured(act: Act, row: Reading, said: str) -> None:
    surface = row.surface
    position = row.position.replace("_stop", "").replace("_", " ")
    bays = [surface.bay.slug] if surface.bay else []
    tell(act, "reading", f"Measured: {surface.name}, {position}: {said}", bays)


def _keep_readings(act: Act) -> None:
    is_check = act.who.role == "counselor"
    act.read = judging(act.subject)
    rows = recording.build(act.read, act.given, act.who.person, is_check)
    Reading.objects.bulk_create(rows)
    act.read.take(rows)
    _measured(act, rows[0], ", ".join(r.as_typed for r in rows))


class ReadingsView(APIView):
    """Recording readings."""

    post = writes(
        on_control(forms.ReadingIn, _keep_readings, ("measure", "check")),
        "Keep them; a counselor's are check readings.",
    )


def _of_reading(who: Member, at: Mapping[str, Any]) -> Control:
    """The control of a reading, locked."""
    rows = Reading.objects.select_related("surface__control")
    old = rows.filter(aircraft=who.aircraft, pk=at["reading"]).first()
    if old is None:
        raise Http404
    control = old.surface.control
    lock(control)
    control.aircraft = who.aircraft
    return control


def _correct(act: Act) -> None:
    """A new row that names the old; 409 with the newer one if it was corrected already."""
    who, control, given = act.who, act.subject, act.given
    rows = Reading.objects.select_related("surface__control", "surface__bay", "taken_by", "round")
    old = rows.get(pk=act.at["reading"])
    own_check = old.check_reading and old.taken_by_id == who.person_id
    if not (own_check or (may(who, "measure") and not old.check_reading)):
        raise PermissionDenied(
            "Only who may measure corrects a reading; a check reading is its taker's."
        )
    newer = rows.filter(corrects=old).first()
    if newer is not None or old.withdrawn:
        raise Conflict(
            reading_shown(newer or old, True),
            {"value": given["value"], "reason": given["reason"]},
            "This reading was corrected meanwhile.",
        )
    if old.round.number != max(control.rounds.values_list("number", flat=True)):
        raise Refused("round", "an earlier round is closed: its readings stay as they are")
    row = recording.corrected(old, given, who.person)
    row.save()
    _measured(act, row, "withdrawn" if row.withdrawn else f"corrected to {row.as_typed}")


class CorrectionView(APIView):
    """Correcting a reading: a new row that names the old."""

    post = writes(
        on_control(forms.CorrectionIn, _correct, ("read",), find=_of_reading),
        "Keep the correction; 409 with the newer one if it was corrected already.",
    )


def _start_round(act: Act) -> None:
    control, given = act.subject, act.given
    last = control.rounds.order_by("-number").select_related("started_by").first()
    assert last is not None
    if last.number != given["number"]:
        raise Conflict(
            {"number": last.number, "reason": last.reason, "by": last.started_by.name},
            given,
            "Another round was started meanwhile.",
        )
    Round.objects.create(
        control=control,
        number=last.number + 1,
        reason=given["reason"],
        started_by=act.who.person,
        started_at=datetime.now(UTC),
    )
    tell(act, "reading", f"{control.name}: round {last.number + 1} begun: {given['reason']}")


class RoundsView(APIView):
    """Measuring all again."""

    post = writes(
        on_control(forms.RoundIn, _start_round), "Start a new round; the old one is kept."
    )


def _see_sense(act: Act) -> None:
    control, given = act.subject, act.given
    SenseCheck.objects.create(
        control=control,
        round=control.rounds.order_by("-number")[0],
        text=control.sense_check,
        seen_by=act.who.person,
        at=datetime.now(UTC),
        **given,
    )
    fine = given["right_way"] and given["free"]
    tell(act, "reading", f"{control.name}: sense check, {'free and correct' if fine else 'not'}")


class SenseView(APIView):
    """The sense check before signing."""

    post = writes(
        on_control(forms.SenseIn, _see_sense, ("measure", "inspect")),
        "Keep what was seen, and by whom.",
    )


def _decide(act: Act) -> None:
    given = act.given
    if len(given["reason"].strip()) < 10:
        raise Refused("reason", "say who answered and what, in 10 characters or more")
    lock_ledger(act.who)
    decide(act.who, act.subject, given["requirement"], given["reason"])


class DecisionView(APIView):
    """Deciding between sources that disagree: a ledger entry too."""

    post = writes(
        on_control(forms.DecisionIn, _decide, ("change facts",)),
        "Choose one, with the reason.",
    )


class SheetView(APIView):
    """One control's travel sheet."""

    @extend_schema(parameters=[OpenApiParameter("round", int)], responses=answer(shapes.SheetShown))
    def get(self, request: Request, slug: str, control: str) -> Response:
        """Of the current round, or of an earlier one."""
        asked = request.query_params.get("round", "")
        number = whole(asked)
        return Response(sheet(control_of(member(request, slug), control), number))

    patch = writes(
        on_control(forms.ControlIn, change_control, ("change facts",), 200),
        "Whether it is a primary control; 409 with both sides on an old version.",
    )
