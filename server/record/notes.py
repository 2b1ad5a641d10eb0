"""Notes on anything."""

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

from server.aircraft.access import member
from server.config.forms import Form, checked
from server.config.paging import Pages
from server.config.shapes import answer
from server.config.text import Text, text
from server.journal.writing import note
from server.record.models import TARGETS, Note
from server.record.places import place_of


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


class NoteIn(Form):
    """A note."""

    target = serializers.ChoiceField(choices=TARGETS, required=False, default="aircraft")
    target_id = text(60)
    text = Text(max_length=1000)


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
