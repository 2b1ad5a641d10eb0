"""The frame that every page of an aircraft shows, and changing its geometry."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from django.db import transaction
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
from server.aircraft.slugs import slug_for
from server.closing import gates
from server.config.forms import checked
from server.config.shapes import answer
from server.hardware.judging import judge_again, with_hours
from server.journal.writing import changed, note
from server.kit.removing import removal
from server.kit.standing import concerns
from server.kit.writing import Write, writes


def frame(who: Member) -> AircraftShown:
    """Geometry with the standing of every bay and closure."""
    lot = Lot(concerns(who.aircraft_id))
    closures = gates.closures_of(who.aircraft_id)
    ready = {
        c.closure.slug
        for c in gates.closings(who.aircraft_id, lot, closures)
        if c.gate.state in ("ready", "overridden")
    }
    return aircraft_shown(who, lot, ready, closures)


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
            # Rows first and the aircraft last, as everywhere: then nobody waits in a circle.
            with_hours(who.aircraft_id)
            a = Aircraft.objects.select_for_update().get(pk=who.aircraft_id)
            theirs = {"name": a.name, "summary": a.summary, "datum": a.datum}
            check_version(a, given["version"], theirs, given)
            before = _said(a)
            hours = a.hours_run
            airframe.put_aircraft(a, given)
            a.version += 1
            a.save()
            who.aircraft = a
            bays = judge_again(a) if a.hours_run != hours else []
            if told := changed(before, _said(a)):
                note(a, who.person, "airframe", told, bays, "airframe")
            return Response(frame(who))


def _said(a: Aircraft) -> dict[str, str]:
    """What is said of an aircraft, in words, as the journal tells a change of it."""
    reach = "" if a.arm_m is None else f"{a.arm_m * 1e3:g} mm, {(a.arm_width_m or 0) * 1e3:g} wide"
    return {
        "Name": a.name,
        "In a few words": a.summary,
        "Datum": a.datum,
        "Bare lengths": a.length_unit,
        "Hours run": f"{a.hours_run:g}",
        "Reach of an arm": reach,
        "Facts": ", ".join(f"{k}={v}" for k, v in a.facts.items()),
    }


def add(request: Request, slug: str, kind: Kind) -> Response:
    """A new bay, closure or opening, from what was typed."""
    who = member(request, slug, "change facts")
    given = checked(kind.form, request)
    with transaction.atomic():
        row = kind.model(aircraft=who.aircraft, changed_by=who.person)
        if isinstance(row, Bay):
            row.order = Bay.objects.filter(aircraft=who.aircraft).count()
        bays = kind.put(row, given)
        row.slug = slug_for(kind.model, who.aircraft, row.name)
        row.save()
        if bays is not None:
            row.bays.set(bays)
        said = f"{kind.model.__name__} entered: {row.name}"
        note(who.aircraft, who.person, "airframe", said, kind.of(row))
        return Response(frame(who), status=201)


def change(request: Request, slug: str, kind: Kind, key: str) -> Response:
    """What was typed, on a row that nobody changed meanwhile; else 409 with both sides."""
    who = member(request, slug, "change facts")
    given = checked(kind.form, request)
    with transaction.atomic():
        row = _one(kind.model, who.aircraft, key)
        check_version(row, given["version"], kind.shown(row), given)
        bays = kind.put(row, given)
        row.version, row.changed_by = row.version + 1, who.person
        row.save()
        if bays is not None:
            row.bays.set(bays)
        said = f"{kind.model.__name__} changed: {row.name}"
        note(who.aircraft, who.person, "airframe", said, kind.of(row))
        return Response(frame(who))


def removing(kind: Kind, key: str) -> Write:
    """The write that takes one away: refused with what stands on it, kept in the history."""
    word = kind.model.__name__.lower()
    return removal(
        word,
        lambda who, at: _one(kind.model, who.aircraft, at[key]),
        before=lambda act, row: kind.of(row),
        link="airframe",
        journal="airframe",
    )


def _put_closure(c: Closure, given: dict[str, Any]) -> list[Bay]:
    if c.closed:
        was = (c.permanent, sorted(b.slug for b in c.bays.all()))
        if was != (given["permanent"], sorted(given["bays"])):
            raise Refused("bays", "is closed: open it before its kind or bays change")
    return airframe.put_closure(c, given)


@dataclass(frozen=True)
class Kind:
    """A part of the airframe: its form, how it is filled in, shown, and which bays it is of."""

    model: Any
    form: Any
    put: Callable[[Any, dict[str, Any]], list[Bay] | None]
    shown: Callable[[Any], Any]
    of: Callable[[Any], list[str]]


BAY = Kind(Bay, airframe.BayIn, airframe.put_bay, lambda b: bay_shown(b, []), lambda b: [b.slug])
CLOSURE = Kind(
    Closure,
    airframe.ClosureIn,
    _put_closure,
    lambda c: closure_shown(c, [b.slug for b in c.bays.all()], False),
    lambda c: [b.slug for b in c.bays.all()],
)
OPENING = Kind(
    Opening, airframe.OpeningIn, airframe.put_opening, opening_shown, lambda o: [o.bay_a.slug]
)


class BaysView(APIView):
    """A new bay."""

    @extend_schema(request=airframe.BayIn, responses=answer(AircraftShown, 201))
    def post(self, request: Request, slug: str) -> Response:
        """With all its limits."""
        return add(request, slug, BAY)


class BayView(APIView):
    """Changing a bay's name and limits."""

    @extend_schema(request=airframe.BayIn, responses=answer(AircraftShown))
    def patch(self, request: Request, slug: str, bay: str) -> Response:
        """Typed or dragged, it is the same."""
        return change(request, slug, BAY, bay)


class BayRemovalView(APIView):
    """Taking a bay away that holds nothing."""

    post = writes(removing(BAY, "bay"), "Refused where anything lies in it.")


class ClosuresView(APIView):
    """A new closure."""

    @extend_schema(request=airframe.ClosureIn, responses=answer(AircraftShown, 201))
    def post(self, request: Request, slug: str) -> Response:
        """With the bays that it opens."""
        return add(request, slug, CLOSURE)


class ClosureEditView(APIView):
    """Changing a closure."""

    @extend_schema(request=airframe.ClosureIn, responses=answer(AircraftShown))
    def patch(self, request: Request, slug: str, closure: str) -> Response:
        """Name, bays, plan; a closed one keeps its kind and bays."""
        return change(request, slug, CLOSURE, closure)


class ClosureRemovalView(APIView):
    """Taking a closure away that was never closed."""

    post = writes(removing(CLOSURE, "closure"), "Refused once it was closed.")


class OpeningsView(APIView):
    """A new opening."""

    @extend_schema(request=airframe.OpeningIn, responses=answer(AircraftShown, 201))
    def post(self, request: Request, slug: str) -> Response:
        """With its corners and clear width."""
        return add(request, slug, OPENING)


class OpeningView(APIView):
    """Changing an opening."""

    @extend_schema(request=airframe.OpeningIn, responses=answer(AircraftShown))
    def patch(self, request: Request, slug: str, opening: str) -> Response:
        """409 with both sides on an old version."""
        return change(request, slug, OPENING, opening)


class OpeningRemovalView(APIView):
    """Taking an opening away."""

    post = writes(removing(OPENING, "opening"), "It stays in the history.")


def _one(model: Any, aircraft: Aircraft, key: str) -> Any:
    found = model.objects.select_for_update(of=("self",)).filter(aircraft=aircraft, slug=key)
    row = found.first()
    if row is None:
        raise Http404
    row.aircraft = aircraft
    return row
