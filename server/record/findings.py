"""Findings: raised, answered, closed."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Any, TypedDict

from django.db import transaction
from django.http import Http404
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import serializers
from rest_framework.exceptions import PermissionDenied
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from core.basis.refused import Refused
from server.aircraft.access import allow, bay_of, member
from server.config.forms import Form, checked
from server.config.paging import Pages
from server.config.shapes import answer
from server.config.text import Text, text
from server.journal.writing import note
from server.record.models import Finding
from server.record.places import locked_joint


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


class AnswerIn(Form):
    """What was done about it, and whether that closes it."""

    how = text(500)
    close = serializers.BooleanField()


class FindingIn(Form):
    """A defect seen."""

    bay = text(50)
    joint = text(60)
    text = Text(max_length=500)


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

    @extend_schema(request=AnswerIn, responses=answer(FindingShown, 201))
    def post(self, request: Request, slug: str, finding: int) -> Response:
        """The builder answers; who raised it, or a counselor, closes it."""
        who = member(request, slug)
        given = checked(AnswerIn, request)
        if not given["close"]:
            allow(who, "measure")
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
