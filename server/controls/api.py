"""Controls: the list, a sheet, and everything that is written on it."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from datetime import UTC, datetime
from typing import Any, TypedDict

from django.http import Http404
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.exceptions import PermissionDenied
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from core.basis.refused import Refused
from core.signoff.gate import LEAST_REASON
from server.aircraft.access import check_version, may, member
from server.aircraft.models import Aircraft, Member, Source
from server.config.forms import checked
from server.config.problems import Conflict
from server.config.shapes import answer
from server.controls import asking, forms, recording, shapes
from server.controls.documents import decide
from server.controls.facts import (
    control_rows,
    judging,
    named,
    reading_shown,
    requirement_shown,
    sheet,
    surface_shown,
)
from server.controls.lookup import control_of, lock, locked
from server.controls.models import Control, Reading, Requirement, Round, SenseCheck
from server.journal.writing import note
from server.kit.writing import Act, Write, writes


class SourceRow(TypedDict):
    """A document of the aircraft."""

    id: int
    cited: str


class SourceList(TypedDict):
    """All documents."""

    count: int
    results: list[SourceRow]


def lock_ledger(who: Member) -> None:
    """One writer at a time for each aircraft's ledger."""
    Aircraft.objects.select_for_update().get(pk=who.aircraft_id)


class ControlsView(APIView):
    """The controls of an aircraft."""

    @extend_schema(responses=answer(shapes.ControlsPage))
    def get(self, request: Request, slug: str) -> Response:
        """With their verdicts."""
        rows = control_rows(member(request, slug).aircraft)
        return Response(shapes.ControlsPage(count=len(rows), results=rows))


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
    rows = recording.build(control, given, who.person, who.role == "counselor")
    judged = judging(control, extra=rows)
    wanted = [
        r
        for r in judged.requirements
        if r.surface_id == rows[0].surface_id and r.position == given["position"]
    ]
    result = judged.results()[wanted[0].pk] if wanted else None
    items = [shapes.Understood(**u) for u in recording.understood(rows)]  # type: ignore[typeddict-item]
    return shapes.Preview(understood=items, result=result, said=", ".join(u["said"] for u in items))


def on_control(
    form: Any,
    do: Callable[[Act], None],
    may: tuple[str, ...] = ("measure",),
    status: int = 201,
    find: Callable[[Member, Mapping[str, Any]], Control] = locked,
) -> Write:
    """A write on a control: judged anew, its facts kept, its sheet answered."""
    return Write(
        may,
        form,
        find,
        do,
        lambda act: sheet(act.subject, held=act.followed),
        shapes.SheetShown,
        status,
        done=recording.touched,
    )


def tell(act: Act, kind: str, said: str, bays: Iterable[str] = (), work: bool = False) -> None:
    """A line in the journal about the control that was written on."""
    control = act.subject
    note(act.who.aircraft, act.who.person, kind, said, bays, f"controls/{control.slug}", work)


def _measured(act: Act, row: Reading, said: str) -> None:
    surface = row.surface
    position = row.position.replace("_stop", "").replace("_", " ")
    bays = [surface.bay.slug] if surface.bay else []
    tell(act, "reading", f"Measured: {surface.name}, {position}: {said}", bays)


def _keep_readings(act: Act) -> None:
    is_check = act.who.role == "counselor"
    rows = recording.build(act.subject, act.given, act.who.person, is_check)
    for row in rows:
        row.save()
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


def _new_requirement(act: Act) -> None:
    control, given = act.subject, act.given
    surface = control.surfaces.filter(slug=given["surface"]).first()
    if surface is None:
        raise Refused("surface", "is not a surface of this control")
    if given["position"] not in control.positions:
        raise Refused("position", "is not a position of this control")
    r = Requirement(
        aircraft=act.who.aircraft,
        control=control,
        surface=surface,
        kind=given["kind"],
        position=given["position"],
        changed_by=act.who.person,
    )
    asking.set_source(r, act.who.aircraft, given)
    asking.set_limits(r, given)
    r.save()
    tell(act, "requirement", f"Required: {named(r)}: {r.as_typed} ({r.source.cited})")


class RequirementsView(APIView):
    """A new requirement."""

    post = writes(
        on_control(forms.NewRequirementIn, _new_requirement, ("change facts",)),
        "Keep it with its source.",
    )


def _of_requirement(who: Member, at: Mapping[str, Any]) -> Control:
    """The control of a requirement, locked."""
    rows = Requirement.objects.select_related("control")
    r = rows.filter(aircraft=who.aircraft, pk=at["requirement"]).first()
    if r is None:
        raise Http404
    lock(r.control)
    r.control.aircraft = who.aircraft
    return r.control


def _change_requirement(act: Act) -> None:
    """The new limits and source; 409 with both sides on an old version."""
    given = act.given
    rows = Requirement.objects.select_related("surface", "source", "control")
    r = rows.get(pk=act.at["requirement"])
    if r.kind not in ("travel", "neutral"):
        raise Refused("requirement", "only travel and neutral are changed here")
    theirs = requirement_shown(r, judging(r.control).results()[r.pk])
    check_version(r, given["version"], theirs, given)
    before = r.as_typed
    asking.set_source(r, act.who.aircraft, given)
    asking.set_limits(r, given)
    r.version, r.changed_by = r.version + 1, act.who.person
    r.save()
    tell(act, "requirement", f"Limit changed: {named(r)}: {before} to {r.as_typed}")


class RequirementView(APIView):
    """Changing a requirement."""

    patch = writes(
        on_control(
            forms.RequirementIn, _change_requirement, ("change facts",), 200, _of_requirement
        ),
        "Keep the new limits and source; 409 with both sides on an old version.",
    )


def _of_surface(who: Member, at: Mapping[str, Any]) -> Control:
    """The control of a surface, locked."""
    rows = Control.objects.filter(aircraft=who.aircraft, surfaces__slug=at["surface"])
    control = rows.first()
    if control is None:
        raise Http404
    lock(control)
    control.aircraft = who.aircraft
    return control


def _change_surface(act: Act) -> None:
    s = act.subject.surfaces.select_related("bay").get(slug=act.at["surface"])
    check_version(s, act.given["version"], surface_shown(s), act.given)
    asking.set_geometry(s, act.given)
    s.version, s.changed_by = s.version + 1, act.who.person
    s.save()
    tell(act, "requirement", f"Geometry changed: {s.name}")


class SurfaceView(APIView):
    """Changing a surface's geometry."""

    patch = writes(
        on_control(forms.SurfaceIn, _change_surface, ("measure",), 200, _of_surface),
        "Keep chord, sweep and neutral angle; 409 with both sides on an old version.",
    )


def _set_primary(act: Act) -> None:
    """A primary control asks for more: that one is not is said with a reason."""
    c, given = act.subject, act.given
    theirs = {"primary": c.primary, "reason": c.primary_reason}
    check_version(c, given["version"], theirs, given)
    reason = given["reason"].strip()
    if not given["primary"] and len(reason) < LEAST_REASON:
        raise Refused("reason", f"say why it is no primary control, in {LEAST_REASON} characters")
    c.primary, c.primary_reason = given["primary"], "" if given["primary"] else reason
    c.version += 1
    c.save()
    word = "a primary control" if c.primary else f"no primary control: {reason}"
    tell(act, "requirement", f"{c.name} is {word}")


class SheetView(APIView):
    """One control's travel sheet."""

    @extend_schema(parameters=[OpenApiParameter("round", int)], responses=answer(shapes.SheetShown))
    def get(self, request: Request, slug: str, control: str) -> Response:
        """Of the current round, or of an earlier one."""
        asked = request.query_params.get("round", "")
        number = int(asked) if asked.isdigit() else None
        return Response(sheet(control_of(member(request, slug), control), number))

    patch = writes(
        on_control(forms.ControlIn, _set_primary, ("change facts",), 200),
        "Whether it is a primary control; 409 with both sides on an old version.",
    )


def _new_source(act: Act) -> None:
    source = asking.new_source(act.subject, act.given)
    source.changed_by = act.who.person
    source.save()
    note(act.subject, act.who.person, "document", f"Document: {source.cited}", (), "sources")


class SourcesView(APIView):
    """The documents of an aircraft."""

    @extend_schema(responses=answer(SourceList))
    def get(self, request: Request, slug: str) -> Response:
        """All of them."""
        return Response(self._all(member(request, slug)))

    post = writes(
        Write(
            ("change facts",),
            forms.SourceIn,
            lambda who, at: who.aircraft,
            _new_source,
            lambda act: SourcesView._all(act.who),
            SourceList,
        ),
        "Add one.",
    )

    @staticmethod
    def _all(who: Member) -> SourceList:
        rows = Source.objects.filter(aircraft=who.aircraft).order_by("title", "revision")
        results = [SourceRow(id=s.pk, cited=s.cited) for s in rows]
        return SourceList(count=len(results), results=results)
