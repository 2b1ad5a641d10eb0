"""Loose ends: left on purpose, and ended."""

from __future__ import annotations

from typing import Any, TypedDict

from django.db import transaction
from django.http import Http404
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from server.aircraft.access import bay_of, member
from server.config.forms import Form, checked
from server.config.paging import Pages
from server.config.shapes import answer
from server.config.text import Text, text
from server.hardware.events import locked
from server.record import looseends
from server.record.models import LooseEnd
from server.record.places import locked_joint


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


class LooseEndIn(Form):
    """A loose end as left."""

    what = Text(max_length=160)
    reason = text(200)
    ends_with = Text(max_length=80)
    bay = text(50)
    joint = text(60)


class HowIn(Form):
    """How it was ended."""

    how = text(200)


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
            rows = LooseEnd.objects.filter(aircraft=who.aircraft, pk=end)
            seen = rows.select_related("joint").first()
            if seen is None:
                raise Http404
            # The joint first, as whoever works on it does: then nobody waits in a circle.
            joint = locked(who.aircraft_id, seen.joint.slug) if seen.joint else None
            found = rows.select_for_update(of=("self",)).select_related("bay", "aircraft").get()
            found.joint = joint
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
