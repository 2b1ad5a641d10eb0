"""Closing, for good or for now, and opening again."""

from __future__ import annotations

from datetime import UTC, datetime

from django.db import transaction
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from core.basis.refused import Refused
from server.aircraft.access import member
from server.aircraft.models import Bay, Closure, Member
from server.closing import inspections
from server.closing.api import closing_of, locked
from server.closing.forms import CloseIn, OpenIn
from server.closing.gates import Closing, as_stood
from server.closing.models import ClosureEvent, ToolCount
from server.closing.shapes import ClosureShown
from server.closing.showing import put_on_for_now, shown
from server.config.forms import checked
from server.config.shapes import answer
from server.journal.writing import note
from server.record.looseends import end, leave
from server.record.models import LooseEnd


class CloseView(APIView):
    """Closing."""

    @extend_schema(request=CloseIn, responses=answer(ClosureShown, 201))
    def post(self, request: Request, slug: str, closure: str) -> Response:
        """Only when the gate lets it; the gate and the count are kept as they stood."""
        who = member(request, slug, "close")
        purpose = checked(CloseIn, request)["purpose"]
        with transaction.atomic():
            aircraft = who.aircraft
            c = locked(aircraft, closure)
            if c.closed and not (purpose == "final" and put_on_for_now(c)):
                raise Refused("closure", "is closed already")
            # Put on for now was a loose end: closing for good is one of the ways it ends. If
            # the gate does not open, all of this is taken back.
            _end_put_on(who, c, f"{c.name} closed for good")
            found = closing_of(aircraft, closure, purpose)
            if found.gate.state == "blocked":
                first = found.gate.blockers[0]
                subject = found.subjects[first.step, first.id].subject
                more = len(found.gate.blockers) - 1
                raise Refused(
                    "gate",
                    f"{subject}: {first.state}" + (f", and {more} more" if more else ""),
                )
            close(who, found, purpose)
            return Response(shown(who, closing_of(aircraft, closure)), status=201)


class OpenView(APIView):
    """Opening again."""

    @extend_schema(request=OpenIn, responses=answer(ClosureShown, 201))
    def post(self, request: Request, slug: str, closure: str) -> Response:
        """With a reason; inspections of the bays behind it are stale from now on."""
        who = member(request, slug, "close")
        reason = checked(OpenIn, request)["reason"].strip()
        if len(reason) < 3:
            raise Refused("reason", "say why it is opened")
        with transaction.atomic():
            aircraft = who.aircraft
            c = locked(aircraft, closure)
            if not c.closed:
                raise Refused("closure", "is open already")
            ClosureEvent.objects.create(
                closure=c, doing="opened", reason=reason, by=who.person, at=datetime.now(UTC)
            )
            c.closed, c.version, c.changed_by = False, c.version + 1, who.person
            c.save()
            _end_put_on(who, c, f"{c.name} opened")
            bays = [b.slug for b in c.bays.all()]
            said = f"{c.name} opened again: {reason}"
            note(aircraft, who.person, "closing", said, bays, f"closures/{c.slug}", True)
            return Response(shown(who, closing_of(aircraft, closure)), status=201)


def close(who: Member, found: Closing, purpose: str) -> None:
    """Keep the event; a temporary closing is a loose end."""
    c = found.closure
    turn = inspections.opened_times(c.pk)
    tools = ToolCount.objects.filter(closure=c, turn=turn)
    ClosureEvent.objects.create(
        closure=c,
        doing="closed",
        purpose=purpose,
        gate=as_stood(found),
        counted=[{"name": t.name, "in": t.went_in, "out": t.came_out} for t in tools],
        by=who.person,
        at=datetime.now(UTC),
    )
    c.closed, c.version, c.changed_by = True, c.version + 1, who.person
    c.save()
    word = "for good" if purpose == "final" else "for now"
    link = f"closures/{c.slug}"
    note(who.aircraft, who.person, "closing", f"{c.name} closed {word}", found.bays, link)
    if purpose == "temporary":
        bay = Bay.objects.filter(aircraft=who.aircraft, slug__in=found.bays).first()
        what = put_on(c)
        leave(who.aircraft, who.person, what, "it is opened or closed for good", bay=bay)


def _end_put_on(who: Member, c: Closure, how: str) -> None:
    rows = LooseEnd.objects.filter(aircraft=who.aircraft, what=put_on(c), ended_at__isnull=True)
    for loose in rows:
        end(loose, who.person, how)


def put_on(c: Closure) -> str:
    """The words of the loose end that a temporary closing is."""
    return f"{c.name} put on for now"
