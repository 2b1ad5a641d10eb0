"""Controls: the list, a sheet, and everything that is written on it."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Any, TypedDict

from django.db import transaction
from django.http import Http404
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.exceptions import PermissionDenied
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from core.basis.refused import Refused
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
    reading_shown,
    requirement_shown,
    sheet,
    surface_shown,
)
from server.controls.models import Control, Reading, Requirement, Round, SenseCheck
from server.journal.writing import note


class SourceRow(TypedDict):
    """A document of the aircraft."""

    id: int
    cited: str


class SourceList(TypedDict):
    """All documents."""

    count: int
    results: list[SourceRow]


def control_of(who: Member, slug: str) -> Control:
    """A control of this aircraft, or 404."""
    found = who.aircraft.controls.filter(slug=slug).first()
    if found is None:
        raise Http404
    found.aircraft = who.aircraft
    return found


def lock(control: Control) -> None:
    """One writer at a time for each control; the caller reads what it changes after this."""
    Control.objects.select_for_update().get(pk=control.pk)


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


class SheetView(APIView):
    """One control's travel sheet."""

    @extend_schema(parameters=[OpenApiParameter("round", int)], responses=answer(shapes.SheetShown))
    def get(self, request: Request, slug: str, control: str) -> Response:
        """Of the current round, or of an earlier one."""
        asked = request.query_params.get("round", "")
        number = int(asked) if asked.isdigit() else None
        return Response(sheet(control_of(member(request, slug), control), number))


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
    items = [shapes.Understood(**u) for u in recording.understood(rows)]
    return shapes.Preview(understood=items, result=result, said=", ".join(u["said"] for u in items))


def written(who: Member, control: Control, row: Reading, said: str) -> None:
    """A line in the journal for readings."""
    surface = row.surface
    bays = [surface.bay.slug] if surface.bay else []
    position = row.position.replace("_stop", "").replace("_", " ")
    text = f"Measured: {surface.name}, {position}: {said}"
    note(who.aircraft, who.person, "reading", text, bays, f"controls/{control.slug}")


class ReadingsView(APIView):
    """Recording readings."""

    @extend_schema(request=forms.ReadingIn, responses=answer(shapes.SheetShown, 201))
    def post(self, request: Request, slug: str, control: str) -> Response:
        """Keep them; a counselor's are check readings."""
        who = member(request, slug)
        if not (may(who, "measure") or may(who, "check")):
            raise PermissionDenied(f"As {who.role} you cannot record readings here.")
        given = checked(forms.ReadingIn, request)
        found = control_of(who, control)
        with transaction.atomic():
            lock(found)
            rows = recording.build(found, given, who.person, who.role == "counselor")
            for row in rows:
                row.save()
            written(who, found, rows[0], ", ".join(r.as_typed for r in rows))
            return Response(sheet(found, held=recording.touched(found)), status=201)


class CorrectionView(APIView):
    """Correcting a reading: a new row that names the old."""

    @extend_schema(request=forms.CorrectionIn, responses=answer(shapes.SheetShown, 201))
    def post(self, request: Request, slug: str, reading: int) -> Response:
        """Keep the correction; 409 with the newer one if it was corrected already."""
        who = member(request, slug)
        given = checked(forms.CorrectionIn, request)
        with transaction.atomic():
            rows = Reading.objects.select_related("surface__control", "taken_by", "round")
            old = rows.filter(aircraft=who.aircraft, pk=reading).first()
            if old is None:
                raise Http404
            lock(old.surface.control)
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
            control = old.surface.control
            if old.round.number != max(control.rounds.values_list("number", flat=True)):
                raise Refused("round", "an earlier round is closed: its readings stay as they are")
            row = recording.corrected(old, given, who.person)
            row.save()
            said = "withdrawn" if row.withdrawn else f"corrected to {row.as_typed}"
            written(who, control, row, said)
            return Response(sheet(control, held=recording.touched(control)), status=201)


class RoundsView(APIView):
    """Measuring all again."""

    @extend_schema(request=forms.RoundIn, responses=answer(shapes.SheetShown, 201))
    def post(self, request: Request, slug: str, control: str) -> Response:
        """Start a new round; the old one is kept."""
        who = member(request, slug, "measure")
        given = checked(forms.RoundIn, request)
        with transaction.atomic():
            found = control_of(who, control)
            lock(found)
            last = found.rounds.order_by("-number").select_related("started_by").first()
            assert last is not None
            if last.number != given["number"]:
                raise Conflict(
                    {"number": last.number, "reason": last.reason, "by": last.started_by.name},
                    given,
                    "Another round was started meanwhile.",
                )
            Round.objects.create(
                control=found,
                number=last.number + 1,
                reason=given["reason"],
                started_by=who.person,
                started_at=datetime.now(UTC),
            )
            return Response(sheet(found, held=recording.touched(found)), status=201)


class SenseView(APIView):
    """The sense check before signing."""

    @extend_schema(request=forms.SenseIn, responses=answer(shapes.SheetShown, 201))
    def post(self, request: Request, slug: str, control: str) -> Response:
        """Keep what was seen, and by whom."""
        who = member(request, slug)
        if not (may(who, "measure") or may(who, "inspect")):
            raise PermissionDenied(f"As {who.role} you cannot record a sense check.")
        given = checked(forms.SenseIn, request)
        with transaction.atomic():
            found = control_of(who, control)
            lock(found)
            SenseCheck.objects.create(
                control=found,
                round=found.rounds.order_by("-number")[0],
                text=found.sense_check,
                seen_by=who.person,
                at=datetime.now(UTC),
                **given,
            )
            return Response(sheet(found, held=recording.touched(found)), status=201)


class DecisionView(APIView):
    """Deciding between sources that disagree: a ledger entry too."""

    @extend_schema(request=forms.DecisionIn, responses=answer(shapes.SheetShown, 201))
    def post(self, request: Request, slug: str, control: str) -> Response:
        """Choose one, with the reason."""
        who = member(request, slug, "change facts")
        given = checked(forms.DecisionIn, request)
        if len(given["reason"].strip()) < 10:
            raise Refused("reason", "say who answered and what, in 10 characters or more")
        with transaction.atomic():
            found = control_of(who, control)
            lock(found)
            lock_ledger(who)
            held = decide(who, found, given["requirement"], given["reason"])
            return Response(sheet(found, held=held), status=201)


class RequirementsView(APIView):
    """A new requirement."""

    @extend_schema(request=forms.NewRequirementIn, responses=answer(shapes.SheetShown, 201))
    def post(self, request: Request, slug: str, control: str) -> Response:
        """Keep it with its source."""
        who = member(request, slug, "change facts")
        given = checked(forms.NewRequirementIn, request)
        with transaction.atomic():
            found = control_of(who, control)
            lock(found)
            surface = found.surfaces.filter(slug=given["surface"]).first()
            if surface is None:
                raise Refused("surface", "is not a surface of this control")
            if given["position"] not in found.positions:
                raise Refused("position", "is not a position of this control")
            r = Requirement(
                aircraft=who.aircraft,
                control=found,
                surface=surface,
                kind=given["kind"],
                position=given["position"],
                changed_by=who.person,
            )
            asking.set_source(r, who.aircraft, given)
            asking.set_limits(r, given)
            r.save()
            return Response(sheet(found, held=recording.touched(found)), status=201)


class RequirementView(APIView):
    """Changing a requirement."""

    @extend_schema(request=forms.RequirementIn, responses=answer(shapes.SheetShown))
    def patch(self, request: Request, slug: str, requirement: int) -> Response:
        """Keep the new limits and source; 409 with both sides on an old version."""
        who = member(request, slug, "change facts")
        given = checked(forms.RequirementIn, request)
        with transaction.atomic():
            rows = Requirement.objects.select_related("surface", "source", "control")
            r = rows.filter(aircraft=who.aircraft, pk=requirement).first()
            if r is None:
                raise Http404
            lock(r.control)
            r = rows.get(pk=requirement)
            if r.kind not in ("travel", "neutral"):
                raise Refused("requirement", "only travel and neutral are changed here")
            theirs = requirement_shown(r, judging(r.control).results()[r.pk])
            check_version(r, given["version"], theirs, given)
            asking.set_source(r, who.aircraft, given)
            asking.set_limits(r, given)
            r.version, r.changed_by = r.version + 1, who.person
            r.save()
            return Response(sheet(r.control, held=recording.touched(r.control)))


class SurfaceView(APIView):
    """Changing a surface's geometry."""

    @extend_schema(request=forms.SurfaceIn, responses=answer(shapes.SheetShown))
    def patch(self, request: Request, slug: str, surface: str) -> Response:
        """Keep chord, sweep and neutral angle; 409 with both sides on an old version."""
        who = member(request, slug, "measure")
        given = checked(forms.SurfaceIn, request)
        with transaction.atomic():
            control = Control.objects.filter(aircraft=who.aircraft, surfaces__slug=surface).first()
            if control is None:
                raise Http404
            lock(control)
            s = control.surfaces.select_related("bay").get(slug=surface)
            check_version(s, given["version"], surface_shown(s), given)
            asking.set_geometry(s, given)
            s.version, s.changed_by = s.version + 1, who.person
            s.save()
            return Response(sheet(control, held=recording.touched(control)))


class SourcesView(APIView):
    """The documents of an aircraft."""

    @extend_schema(responses=answer(SourceList))
    def get(self, request: Request, slug: str) -> Response:
        """All of them."""
        return Response(self._all(member(request, slug)))

    @extend_schema(request=forms.SourceIn, responses=answer(SourceList, 201))
    def post(self, request: Request, slug: str) -> Response:
        """Add one."""
        who = member(request, slug, "change facts")
        source = asking.new_source(who.aircraft, checked(forms.SourceIn, request))
        source.changed_by = who.person
        source.save()
        return Response(self._all(who), status=201)

    @staticmethod
    def _all(who: Member) -> SourceList:
        rows = Source.objects.filter(aircraft=who.aircraft).order_by("title", "revision")
        results = [SourceRow(id=s.pk, cited=s.cited) for s in rows]
        return SourceList(count=len(results), results=results)
