"""Loose ends, findings and notes."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Any, TypedDict

from django.db import transaction
from django.db.models import Q
from django.http import Http404
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import serializers
from rest_framework.exceptions import PermissionDenied
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from core.basis.refused import Refused
from server.aircraft.access import member
from server.aircraft.api import Pages
from server.aircraft.models import Aircraft, Bay
from server.config.forms import checked
from server.config.shapes import answer
from server.config.text import Text, text
from server.hardware.events import locked
from server.hardware.models import Joint
from server.journal.writing import note
from server.record import looseends
from server.record.models import TARGETS, Finding, LooseEnd, Note


class LooseEndShown(TypedDict):
    """A loose end."""

    id: int
    what: str
    reason: str
    ends_with: str
    bay: str
    joint: str
    left_by: str
    left_at: str
    ended_by: str
    ended_at: str
    how: str


class LooseEndPage(TypedDict):
    """Loose ends."""

    count: int
    results: list[LooseEndShown]


class FindingShown(TypedDict):
    """A finding."""

    id: int
    text: str
    bay: str
    joint: str
    raised_by: str
    raised_at: str
    answer: str
    closed_by: str
    closed_at: str
    can_close: bool


class FindingPage(TypedDict):
    """Findings."""

    count: int
    results: list[FindingShown]


class NoteShown(TypedDict):
    """A note."""

    id: int
    text: str
    target: str
    target_id: str
    bay: str
    by: str
    at: str


class NotePage(TypedDict):
    """Notes."""

    count: int
    results: list[NoteShown]


class LooseEndIn(serializers.Serializer[Any]):
    """A loose end as left."""

    what = Text(max_length=160)
    reason = text(200)
    ends_with = Text(max_length=80)
    bay = text(50)
    joint = text(60)


class HowIn(serializers.Serializer[Any]):
    """How it was ended, or what the answer is."""

    how = text(500)
    close = serializers.BooleanField(required=False, default=True)


class FindingIn(serializers.Serializer[Any]):
    """A defect seen."""

    bay = text(50)
    joint = text(60)
    text = Text(max_length=500)


class NoteIn(serializers.Serializer[Any]):
    """A note."""

    target = serializers.ChoiceField(choices=TARGETS, required=False, default="aircraft")
    target_id = text(60)
    text = Text(max_length=1000)


def bay_of(aircraft: Aircraft, slug: str) -> Bay | None:
    """The bay of that slug, None for none; refuses one that is not this aircraft's."""
    if not slug:
        return None
    found = Bay.objects.filter(aircraft=aircraft, slug=slug).first()
    if found is None:
        raise Refused("bay", "is not a bay of this aircraft")
    return found


def locked_joint(aircraft: Aircraft, slug: str) -> Joint | None:
    """The joint, locked; refuses one that is not this aircraft's."""
    if not slug:
        return None
    found = locked(aircraft.pk, slug)
    if found is None:
        raise Refused("joint", "is not a joint of this aircraft")
    return found


class LooseEndsView(APIView):
    """Everything left on purpose."""

    @extend_schema(
        parameters=[
            OpenApiParameter("bay", str),
            OpenApiParameter("ended", bool),
            OpenApiParameter("page", int),
            OpenApiParameter("size", int),
        ],
        responses=answer(LooseEndPage),
    )
    def get(self, request: Request, slug: str) -> Response:
        """Open ones, or those that were ended."""
        who = member(request, slug)
        ended = request.query_params.get("ended") in ("1", "true")
        rows = LooseEnd.objects.filter(
            aircraft=who.aircraft, ended_at__isnull=not ended
        ).select_related("bay", "joint", "left_by", "ended_by")
        if bay := request.query_params.get("bay"):
            rows = rows.filter(bay__slug=bay)
        pages = Pages()
        page: list[LooseEnd] = pages.paginate_queryset(rows, request, self) or []
        count: Any = pages.page.paginator.count if pages.page else 0
        return Response(LooseEndPage(count=count, results=[loose_shown(e) for e in page]))

    @extend_schema(request=LooseEndIn, responses=answer(LooseEndShown, 201))
    def post(self, request: Request, slug: str) -> Response:
        """Leave one."""
        who = member(request, slug, "measure")
        given = checked(LooseEndIn, request)
        with transaction.atomic():
            joint = locked_joint(who.aircraft, given["joint"])
            end = looseends.leave(
                who.aircraft,
                who.person,
                given["what"],
                given["ends_with"],
                given["reason"],
                bay_of(who.aircraft, given["bay"]),
                joint,
            )
            return Response(loose_shown(end), status=201)


class EndView(APIView):
    """Ending a loose end."""

    @extend_schema(request=HowIn, responses=answer(LooseEndShown, 201))
    def post(self, request: Request, slug: str, end: int) -> Response:
        """Who and when are kept."""
        who = member(request, slug, "measure")
        given = checked(HowIn, request)
        with transaction.atomic():
            rows = LooseEnd.objects.select_for_update(of=("self",)).select_related(
                "joint", "bay", "aircraft"
            )
            found = rows.filter(aircraft=who.aircraft, pk=end).first()
            if found is None:
                raise Http404
            if found.joint is not None:
                found.joint = locked(who.aircraft_id, found.joint.slug)
            looseends.end(found, who.person, given["how"])
            return Response(loose_shown(found), status=201)


def loose_shown(e: LooseEnd) -> LooseEndShown:
    """A loose end for the screen."""
    return LooseEndShown(
        id=e.pk,
        what=e.what,
        reason=e.reason,
        ends_with=e.ends_with,
        bay=e.bay.slug if e.bay else "",
        joint=e.joint.slug if e.joint else "",
        left_by=e.left_by.name,
        left_at=e.left_at.isoformat(),
        ended_by=e.ended_by.name if e.ended_by else "",
        ended_at=e.ended_at.isoformat() if e.ended_at else "",
        how=e.how,
    )


class FindingsView(APIView):
    """Defects that someone recorded."""

    @extend_schema(
        parameters=[
            OpenApiParameter("bay", str),
            OpenApiParameter("closed", bool),
            OpenApiParameter("page", int),
        ],
        responses=answer(FindingPage),
    )
    def get(self, request: Request, slug: str) -> Response:
        """Open ones, or those closed."""
        who = member(request, slug)
        closed = request.query_params.get("closed") in ("1", "true")
        rows = Finding.objects.filter(
            aircraft=who.aircraft, closed_at__isnull=not closed
        ).select_related("bay", "joint", "raised_by", "closed_by")
        if bay := request.query_params.get("bay"):
            rows = rows.filter(bay__slug=bay)
        pages = Pages()
        page: list[Finding] = pages.paginate_queryset(rows, request, self) or []
        count: Any = pages.page.paginator.count if pages.page else 0
        shown = [finding_shown(f, who.person_id, who.role) for f in page]
        return Response(FindingPage(count=count, results=shown))

    @extend_schema(request=FindingIn, responses=answer(FindingShown, 201))
    def post(self, request: Request, slug: str) -> Response:
        """Raise one."""
        who = member(request, slug, "find fault")
        given = checked(FindingIn, request)
        with transaction.atomic():
            joint = locked_joint(who.aircraft, given["joint"])
            bay = bay_of(who.aircraft, given["bay"]) or (joint.bay if joint else None)
            found = Finding.objects.create(
                aircraft=who.aircraft,
                changed_by=who.person,
                text=given["text"],
                bay=bay,
                joint=joint,
                raised_by=who.person,
                raised_at=datetime.now(UTC),
            )
            bays = [bay.slug] if bay else []
            link = f"bays/{bay.slug}" if bay else ""
            note(who.aircraft, who.person, "finding", f"Finding: {found.text}", bays, link)
            return Response(finding_shown(found, who.person_id, who.role), status=201)


class FindingView(APIView):
    """Answering and closing a finding."""

    @extend_schema(request=HowIn, responses=answer(FindingShown, 201))
    def post(self, request: Request, slug: str, finding: int) -> Response:
        """The builder answers; who raised it, or a counselor, closes it."""
        who = member(request, slug, "measure" if not _closing(request) else "read")
        given = checked(HowIn, request)
        with transaction.atomic():
            rows = Finding.objects.select_for_update(of=("self",)).select_related(
                "bay", "raised_by", "joint"
            )
            f = rows.filter(aircraft=who.aircraft, pk=finding).first()
            if f is None:
                raise Http404
            if f.closed_at is not None:
                raise Refused("finding", "is closed already")
            if given["how"].strip():
                f.answer = given["how"].strip()
            if given["close"]:
                if not _may_close(f, who.person_id, who.role):
                    raise PermissionDenied("Who raised it, or a counselor, closes a finding.")
                if not f.answer:
                    raise Refused("how", "say what was done about it")
                f.closed_by, f.closed_at = who.person, datetime.now(UTC)
            f.version, f.changed_by = f.version + 1, who.person
            f.save()
            said = f"Finding {'closed' if f.closed_at else 'answered'}: {f.text}"
            note(who.aircraft, who.person, "finding", said, [f.bay.slug] if f.bay else [])
            return Response(finding_shown(f, who.person_id, who.role), status=201)


def _closing(request: Request) -> bool:
    return bool(isinstance(request.data, dict) and request.data.get("close", True))


def _may_close(f: Finding, person: int, role: str) -> bool:
    return f.raised_by_id == person or role == "counselor"


def finding_shown(f: Finding, person: int, role: str) -> FindingShown:
    """A finding for the screen."""
    return FindingShown(
        id=f.pk,
        text=f.text,
        bay=f.bay.slug if f.bay else "",
        joint=f.joint.slug if f.joint else "",
        raised_by=f.raised_by.name,
        raised_at=f.raised_at.isoformat(),
        answer=f.answer,
        closed_by=f.closed_by.name if f.closed_by else "",
        closed_at=f.closed_at.isoformat() if f.closed_at else "",
        can_close=_may_close(f, person, role),
    )


class NotesView(APIView):
    """Notes on anything."""

    @extend_schema(
        parameters=[OpenApiParameter("bay", str), OpenApiParameter("page", int)],
        responses=answer(NotePage),
    )
    def get(self, request: Request, slug: str) -> Response:
        """Newest first; of a bay, those on what lies in it too."""
        who = member(request, slug)
        rows = Note.objects.filter(aircraft=who.aircraft, withdrawn_at__isnull=True)
        if bay := request.query_params.get("bay"):
            rows = rows.filter(Q(bay__slug=bay))
        pages = Pages()
        page: list[Note] = (
            pages.paginate_queryset(rows.select_related("by", "bay"), request, self) or []
        )
        count: Any = pages.page.paginator.count if pages.page else 0
        return Response(NotePage(count=count, results=[note_shown(n) for n in page]))

    @extend_schema(request=NoteIn, responses=answer(NoteShown, 201))
    def post(self, request: Request, slug: str) -> Response:
        """Write one."""
        who = member(request, slug, "write")
        given = checked(NoteIn, request)
        with transaction.atomic():
            bay = place_of(who.aircraft, given["target"], given["target_id"])
            n = Note.objects.create(
                aircraft=who.aircraft,
                bay=bay,
                by=who.person,
                at=datetime.now(UTC),
                **given,
            )
            note(who.aircraft, who.person, "note", f"Note: {n.text}", [bay.slug] if bay else [])
            return Response(note_shown(n), status=201)


class WithdrawNoteView(APIView):
    """Taking back one's own note."""

    @extend_schema(request=None, responses=answer(NoteShown, 201))
    def post(self, request: Request, slug: str, note_id: int) -> Response:
        """It stays in the record, but is no longer shown."""
        who = member(request, slug, "write")
        n = Note.objects.select_related("by", "bay").filter(aircraft=who.aircraft, pk=note_id)
        found = n.first()
        if found is None:
            raise Http404
        if found.by_id != who.person_id:
            raise PermissionDenied("Only who wrote a note takes it back.")
        found.withdrawn_at = datetime.now(UTC)
        found.save(update_fields=["withdrawn_at"])
        return Response(note_shown(found), status=201)


def place_of(aircraft: Aircraft, target: str, target_id: str) -> Bay | None:
    """The bay of a note's or photo's target; refuses what this aircraft does not have."""
    if target == "aircraft":
        return None
    if target == "bay":
        if not target_id:
            raise Refused("target_id", "say which bay")
        return bay_of(aircraft, target_id)
    if target == "joint":
        joint = Joint.objects.select_related("bay").filter(aircraft=aircraft, slug=target_id)
        if (found := joint.first()) is None:
            raise Refused("target_id", "is not a joint of this aircraft")
        return found.bay
    if target == "closure":
        closure = aircraft.closures.filter(slug=target_id).first()
        if closure is None:
            raise Refused("target_id", "is not a closure of this aircraft")
        bays = list(closure.bays.all()[:2])
        return bays[0] if len(bays) == 1 else None
    if target == "finding":
        rows = Finding.objects.select_related("bay").filter(aircraft=aircraft)
        finding = rows.filter(pk=target_id).first() if target_id.isdigit() else None
        if finding is None:
            raise Refused("target_id", "is not a finding on this aircraft")
        return finding.bay
    raise Refused("target", f"must be one of: {', '.join(TARGETS)}")


def note_shown(n: Note) -> NoteShown:
    """A note for the screen."""
    return NoteShown(
        id=n.pk,
        text=n.text,
        target=n.target,
        target_id=n.target_id,
        bay=n.bay.slug if n.bay else "",
        by=n.by.name,
        at=n.at.isoformat(),
    )
