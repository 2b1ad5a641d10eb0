"""The frame that every page of an aircraft shows, and changing its geometry."""

from __future__ import annotations

from typing import Any

from django.db import transaction
from django.db.models import ProtectedError
from django.http import Http404
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from core.basis.refused import Refused
from core.signoff.closing import Lot
from server.aircraft import airframe
from server.aircraft.access import check_version, member
from server.aircraft.facts import (
    AircraftShown,
    aircraft_shown,
    bay_shown,
    closure_shown,
    opening_shown,
)
from server.aircraft.models import Aircraft, Bay, Closure, Member, Opening
from server.closing import gates
from server.closing.own import gather
from server.config.forms import checked
from server.config.shapes import answer
from server.hardware.entering import slug_for
from server.journal.writing import note


def frame(who: Member) -> AircraftShown:
    """Geometry with the standing of every bay and closure."""
    who.aircraft = Aircraft.objects.get(pk=who.aircraft_id)
    behind = gather(who.aircraft)
    lot = Lot(gates.all_concerns(who.aircraft, behind))
    ready = {
        c.closure.slug
        for c in gates.closings(who.aircraft, lot, behind)
        if c.gate.state in ("ready", "overridden")
    }
    return aircraft_shown(who, lot, ready)


class AircraftView(APIView):
    """One aircraft."""

    @extend_schema(responses=answer(AircraftShown))
    def get(self, request: Request, slug: str) -> Response:
        """Its geometry, bays with verdicts, closures, members, and what you may do."""
        return Response(frame(member(request, slug)))

    @extend_schema(request=airframe.AircraftIn, responses=answer(AircraftShown))
    def patch(self, request: Request, slug: str) -> Response:
        """Change what is said of it; 409 with both sides on an old version."""
        who = member(request, slug, "change facts")
        given = checked(airframe.AircraftIn, request)
        with transaction.atomic():
            a = Aircraft.objects.select_for_update().get(pk=who.aircraft_id)
            theirs = {"name": a.name, "summary": a.summary, "datum": a.datum}
            check_version(a, given["version"], theirs, given)
            airframe.put_aircraft(a, given)
            a.version += 1
            a.save()
            return Response(frame(who))


class BaysView(APIView):
    """A new bay."""

    @extend_schema(request=airframe.BayIn, responses=answer(AircraftShown, 201))
    def post(self, request: Request, slug: str) -> Response:
        """With all its limits."""
        who = member(request, slug, "change facts")
        given = checked(airframe.BayIn, request)
        with transaction.atomic():
            count = Bay.objects.filter(aircraft=who.aircraft).count()
            bay = Bay(aircraft=who.aircraft, changed_by=who.person, order=count)
            airframe.put_bay(bay, given)
            bay.slug = slug_for(Bay, who.aircraft, bay.name)
            bay.save()
            note(who.aircraft, who.person, "airframe", f"Bay entered: {bay.name}", [bay.slug])
            return Response(frame(who), status=201)


class BayView(APIView):
    """Changing a bay's name and limits."""

    @extend_schema(request=airframe.BayIn, responses=answer(AircraftShown))
    def patch(self, request: Request, slug: str, bay: str) -> Response:
        """Typed or dragged, it is the same; 409 with both sides on an old version."""
        who = member(request, slug, "change facts")
        given = checked(airframe.BayIn, request)
        with transaction.atomic():
            b = _one(Bay, who.aircraft, bay)
            check_version(b, given["version"], bay_shown(b, []), given)
            airframe.put_bay(b, given)
            b.version, b.changed_by = b.version + 1, who.person
            b.save()
            return Response(frame(who))

    @extend_schema(responses=answer(AircraftShown))
    def delete(self, request: Request, slug: str, bay: str) -> Response:
        """Only one that holds nothing."""
        who = member(request, slug, "change facts")
        with transaction.atomic():
            b = _one(Bay, who.aircraft, bay)
            if b.joints.exists() or b.closures.exists():
                raise Refused("bay", "holds joints or has closures: move them first")
            b.delete()
            return Response(frame(who))


class ClosuresView(APIView):
    """A new closure."""

    @extend_schema(request=airframe.ClosureIn, responses=answer(AircraftShown, 201))
    def post(self, request: Request, slug: str) -> Response:
        """With the bays that it opens."""
        who = member(request, slug, "change facts")
        given = checked(airframe.ClosureIn, request)
        with transaction.atomic():
            c = Closure(aircraft=who.aircraft, changed_by=who.person)
            bays = airframe.put_closure(c, given)
            c.slug = slug_for(Closure, who.aircraft, c.name)
            c.save()
            c.bays.set(bays)
            said = f"Closure entered: {c.name}"
            note(who.aircraft, who.person, "airframe", said, [b.slug for b in bays])
            return Response(frame(who), status=201)


class ClosureEditView(APIView):
    """Changing a closure."""

    @extend_schema(request=airframe.ClosureIn, responses=answer(AircraftShown))
    def patch(self, request: Request, slug: str, closure: str) -> Response:
        """Name, bays, plan; a closed one keeps its kind and bays."""
        who = member(request, slug, "change facts")
        given = checked(airframe.ClosureIn, request)
        with transaction.atomic():
            c = _one(Closure, who.aircraft, closure)
            check_version(c, given["version"], closure_shown(c, False), given)
            was = (c.permanent, sorted(b.slug for b in c.bays.all()))
            if c.closed and was != (given["permanent"], sorted(given["bays"])):
                raise Refused("bays", "is closed: open it before its kind or bays change")
            c.bays.set(airframe.put_closure(c, given))
            c.version, c.changed_by = c.version + 1, who.person
            c.save()
            return Response(frame(who))

    @extend_schema(responses=answer(AircraftShown))
    def delete(self, request: Request, slug: str, closure: str) -> Response:
        """Only one that was never closed."""
        who = member(request, slug, "change facts")
        with transaction.atomic():
            c = _one(Closure, who.aircraft, closure)
            try:
                c.delete()
            except ProtectedError:
                raise Refused("closure", "was closed once: its record stays") from None
            return Response(frame(who))


class OpeningsView(APIView):
    """A new opening."""

    @extend_schema(request=airframe.OpeningIn, responses=answer(AircraftShown, 201))
    def post(self, request: Request, slug: str) -> Response:
        """With its corners and clear width."""
        who = member(request, slug, "change facts")
        given = checked(airframe.OpeningIn, request)
        with transaction.atomic():
            o = Opening(aircraft=who.aircraft, changed_by=who.person)
            airframe.put_opening(o, given)
            o.slug = slug_for(Opening, who.aircraft, o.name)
            o.save()
            return Response(frame(who), status=201)


class OpeningView(APIView):
    """Changing an opening, or taking it away."""

    @extend_schema(request=airframe.OpeningIn, responses=answer(AircraftShown))
    def patch(self, request: Request, slug: str, opening: str) -> Response:
        """409 with both sides on an old version."""
        who = member(request, slug, "change facts")
        given = checked(airframe.OpeningIn, request)
        with transaction.atomic():
            o = _one(Opening, who.aircraft, opening)
            check_version(o, given["version"], opening_shown(o), given)
            airframe.put_opening(o, given)
            o.version, o.changed_by = o.version + 1, who.person
            o.save()
            return Response(frame(who))

    @extend_schema(responses=answer(AircraftShown))
    def delete(self, request: Request, slug: str, opening: str) -> Response:
        """It stays in the history."""
        who = member(request, slug, "change facts")
        with transaction.atomic():
            _one(Opening, who.aircraft, opening).delete()
            return Response(frame(who))


def _one(model: Any, aircraft: Aircraft, slug: str) -> Any:
    found = model.objects.select_for_update(of=("self",)).filter(aircraft=aircraft, slug=slug)
    row = found.first()
    if row is None:
        raise Http404
    row.aircraft = aircraft
    return row
