"""Since my last visit: what changed, what is newly stale, what is about to be closed."""

from __future__ import annotations

from datetime import UTC, date, datetime, timedelta
from typing import Any, TypedDict

from django.db import transaction
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from server.aircraft.access import member
from server.aircraft.models import Closure, Member
from server.config.paging import Pages
from server.config.shapes import answer
from server.journal.models import Change, Visit
from server.signoff.models import LedgerEntry
from server.signoff.standing import standing

SOON = timedelta(days=14)


class ChangeShown(TypedDict):
    """One thing that was done."""

    at: str
    by: str
    kind: str
    said: str
    bays: list[str]
    link: str


class StaleShown(TypedDict):
    """A scope whose signatures no longer hold."""

    scope: str
    signed_by: str
    signed_at: str


class SoonShown(TypedDict):
    """A closure about to be closed."""

    slug: str
    name: str
    permanent: bool
    planned_on: str


class Pulse(TypedDict):
    """The last thing that was done here, as a number; another one, and something changed."""

    last: int


class SinceShown(TypedDict):
    """What is new to this person."""

    since: str
    count: int
    changes: list[ChangeShown]
    stale: list[StaleShown]
    soon: list[SoonShown]


class SinceView(APIView):
    """What changed since I last looked."""

    @extend_schema(
        parameters=[OpenApiParameter("page", int), OpenApiParameter("bay", str)],
        responses=answer(SinceShown),
    )
    def get(self, request: Request, slug: str) -> Response:
        """Everything after the last visit (the whole journal before the first)."""
        who = member(request, slug)
        last = Visit.objects.filter(aircraft=who.aircraft, person=who.person).first()
        rows = Change.objects.filter(aircraft=who.aircraft).select_related("by")
        if last:
            rows = rows.filter(at__gt=last.at)
        if bay := request.query_params.get("bay"):
            rows = rows.filter(bays__contains=[bay])
        pages = Pages()
        page: list[Change] = pages.paginate_queryset(rows, request, self) or []
        count: Any = pages.page.paginator.count if pages.page else 0
        return Response(
            SinceShown(
                since=last.at.isoformat() if last else "",
                count=count,
                changes=[_shown(c) for c in page],
                stale=_stale(who),
                soon=_soon(who),
            )
        )

    @extend_schema(request=None, responses=answer(SinceShown, 201))
    def post(self, request: Request, slug: str) -> Response:
        """I have seen all this: the next list begins here."""
        who = member(request, slug)
        with transaction.atomic():
            visit = Visit.objects.create(
                aircraft=who.aircraft, person=who.person, at=datetime.now(UTC)
            )
        return Response(
            SinceShown(
                since=visit.at.isoformat(),
                count=0,
                changes=[],
                stale=_stale(who),
                soon=_soon(who),
            ),
            status=201,
        )


def _shown(c: Change) -> ChangeShown:
    return ChangeShown(
        at=c.at.isoformat(), by=c.by.name, kind=c.kind, said=c.said, bays=c.bays, link=c.link
    )


def _stale(who: Member) -> list[StaleShown]:
    stale = {s for (_, s), state in standing([who.aircraft_id]).items() if state == "stale"}
    last: dict[str, LedgerEntry] = {}
    for e in LedgerEntry.objects.filter(
        aircraft=who.aircraft, kind="signature", scope__in=stale
    ).select_related("by"):
        last[e.scope] = e
    return [
        StaleShown(scope=s, signed_by=e.by.name, signed_at=e.at.isoformat())
        for s, e in sorted(last.items())
    ]


def _soon(who: Member) -> list[SoonShown]:
    rows = Closure.objects.filter(
        aircraft=who.aircraft,
        closed=False,
        planned_on__isnull=False,
        planned_on__lte=date.today() + SOON,
    )
    return [
        SoonShown(
            slug=c.slug,
            name=c.name,
            permanent=c.permanent,
            planned_on=c.planned_on.isoformat() if c.planned_on else "",
        )
        for c in rows.order_by("planned_on")
    ]


class PulseView(APIView):
    """Whether anything changed, asked every other second by every open page."""

    @extend_schema(responses=answer(Pulse))
    def get(self, request: Request, slug: str) -> Response:
        """The number of the last change."""
        who = member(request, slug)
        rows = Change.objects.filter(aircraft=who.aircraft_id)
        return Response(Pulse(last=rows.order_by("-id").values_list("id", flat=True).first() or 0))
