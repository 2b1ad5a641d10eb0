"""The lane's closures, their gates, counting tools, overriding, closing and opening."""

from __future__ import annotations

from datetime import UTC, date, datetime
from typing import Any

from django.db import transaction
from django.http import Http404
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from core.basis.checks import STEPS
from core.basis.refused import Refused
from core.signoff.closing import Lot
from core.signoff.gate import LEAST_REASON, Item
from server.accounts.passwords import confirm
from server.aircraft.access import check_version, member
from server.aircraft.models import Aircraft, Bay, Closure, Member, NoneHere
from server.closing import gates, inspections
from server.closing.forms import NoneIn, OverrideIn, ToolIn
from server.closing.gates import Closing
from server.closing.models import ToolCount
from server.closing.shapes import BayContents, ClosureShown, LaneShown
from server.closing.showing import item_shown, row, shown, tool_shown
from server.closing.trade import must_describe, unknown_to
from server.config.forms import checked
from server.config.shapes import answer
from server.journal.writing import note
from server.kit.standing import concerns
from server.signoff.ledger import append
from server.signoff.models import LedgerEntry

# So many of what lies in no bay are listed in the lane; how many there are is always said.
FIRST_OUTSIDE = 50


class LaneView(APIView):
    """What stands between now and closing up."""

    @extend_schema(responses=answer(LaneShown))
    def get(self, request: Request, slug: str) -> Response:
        """The closures in the order that they are planned, each with its gate."""
        who = member(request, slug)
        found = concerns(who.aircraft_id)
        closures = gates.closures_of(who.aircraft_id)
        every = sorted(gates.closings(who.aircraft_id, Lot(found), closures), key=_order)
        outside = [c for c in found if not c.bays and not c.closure and not c.passes]
        ours = [c for c in found if not c.closure]
        done = sum(c.passes for c in ours)
        return Response(
            LaneShown(
                closings=[row(c) for c in every],
                outside=[item_shown(c) for c in outside[:FIRST_OUTSIDE]],
                outside_count=len(outside),
                done=done,
                open=len(ours) - done,
            )
        )


def _order(c: Closing) -> tuple[Any, ...]:
    """Open ones first: by planned day, permanent before removable; then by station."""
    day = c.closure.planned_on or date.max
    return (c.closure.closed, day, not c.closure.permanent, c.closure.pk)


class ClosureView(APIView):
    """One closure."""

    @extend_schema(
        parameters=[OpenApiParameter("purpose", str, enum=["final", "temporary"])],
        responses=answer(ClosureShown),
    )
    def get(self, request: Request, slug: str, closure: str) -> Response:
        """Its gate, everything behind it, its count, and what happened to it."""
        who = member(request, slug)
        purpose = request.query_params.get("purpose", "final")
        return Response(shown(who, closing_of(who.aircraft, closure, purpose)))


def closing_of(aircraft: Aircraft, slug: str, purpose: str = "final") -> Closing:
    """A closure's gate, or 404."""
    found = gates.closing(aircraft.pk, slug, purpose)
    if found is None:
        raise Http404
    return found


class ToolsView(APIView):
    """Counting tools and loose objects for this closing."""

    @extend_schema(request=ToolIn, responses=answer(ClosureShown, 201))
    def post(self, request: Request, slug: str, closure: str) -> Response:
        """A named tool: how many went in, how many came out."""
        who = member(request, slug, "measure")
        given = checked(ToolIn, request)
        if given["came_out"] > given["went_in"]:
            raise Refused("came_out", "more came out than went in: count again")
        with transaction.atomic():
            c = locked(who.aircraft, closure)
            if c.closed:
                raise Refused("closure", "is closed: open it before you count")
            turn = inspections.opened_times(c.pk)
            name = given["name"].strip()
            known = ToolCount.objects.filter(closure=c, turn=turn, name__iexact=name).first()
            if known is not None and given["version"] != known.version:
                check_version(known, given["version"], tool_shown(known), given)
            t = known or ToolCount(
                aircraft=who.aircraft, closure=c, turn=turn, name=name, version=0
            )
            t.went_in, t.came_out = given["went_in"], given["came_out"]
            t.version, t.changed_by = t.version + 1, who.person
            t.save()
            counted = f"{c.name}, {t.name}: {t.went_in} went in, {t.came_out} came out"
            bays = [b.slug for b in c.bays.all()]
            note(who.aircraft, who.person, "closing", counted, bays, f"closures/{c.slug}")
            return Response(shown(who, closing_of(who.aircraft, closure)), status=201)


class OverrideView(APIView):
    """A named person's decision to close over what is not done."""

    @extend_schema(request=OverrideIn, responses=answer(ClosureShown, 201))
    def post(self, request: Request, slug: str, closure: str) -> Response:
        """It covers exactly these blockers as they stand, and stays visible for ever."""
        who = member(request, slug, "close")
        given = checked(OverrideIn, request)
        confirm(request, given["password"])
        reason = given["reason"].strip()
        if len(reason) < LEAST_REASON:
            raise Refused("reason", f"must say why, in {LEAST_REASON} characters or more")
        with transaction.atomic():
            aircraft = Aircraft.objects.select_for_update().get(pk=who.aircraft_id)
            found = closing_of(aircraft, closure)
            standing = {i.hash: i for i in found.gate.blockers}
            unknown = [h for h in given["blockers"] if h not in standing]
            if unknown:
                raise Refused("blockers", "have changed meanwhile: look at the gate again")
            _override(who, aircraft, found, [standing[h] for h in given["blockers"]], reason)
            return Response(shown(who, closing_of(aircraft, closure)), status=201)


def _override(
    who: Member, aircraft: Aircraft, c: Closing, items: list[Item], reason: str
) -> LedgerEntry:
    scope = gates.override_scope(c.closure)
    subjects = c.subjects
    body = {
        "at": datetime.now(UTC).strftime("%Y-%m-%dT%H:%M:%SZ"),
        "by": who.person.slug,
        "scope": scope,
        "closure": c.closure.name,
        "reason": reason,
        "blockers": [
            {
                "hash": i.hash,
                "id": i.id,
                "owner": i.owner,
                "state": i.state,
                "step": i.step,
                "subject": subjects[i.step, i.id].subject,
            }
            for i in items
        ],
    }
    said = f"Override at {c.closure.name}: {len(items)} of the gate's items. {reason}"
    note(aircraft, who.person, "override", said, c.bays, f"closures/{c.closure.slug}")
    return append(aircraft, "override", scope, who.person, body)


class BayContentsView(APIView):
    """Everything in a bay."""

    @extend_schema(responses=answer(BayContents))
    def get(self, request: Request, slug: str, bay: str) -> Response:
        """What is open in it, what is done, and the closures over it."""
        who = member(request, slug)
        row_of = Bay.objects.filter(aircraft=who.aircraft, slug=bay).first()
        if row_of is None:
            raise Http404
        lot = Lot(concerns(who.aircraft_id))
        closures = gates.closures_of(who.aircraft_id)
        order = list(STEPS)
        here = sorted(lot.in_bay(bay), key=lambda c: order.index(c.step))
        over = [c for c in gates.closings(who.aircraft_id, lot, closures) if bay in c.bays]
        said = NoneHere.objects.filter(bay=row_of).select_related("by")
        return Response(
            BayContents(
                slug=bay,
                name=row_of.name,
                items=[item_shown(c) for c in here if not c.passes],
                done=[item_shown(c) for c in here if c.passes],
                undescribed=unknown_to(who.aircraft_id, bay),
                none_here=[f"No {n.capability}: {n.by.name}" for n in said],
                closings=[row(c) for c in sorted(over, key=_order)],
            )
        )


class NoneHereView(APIView):
    """A person's word that a bay holds nothing of a kind."""

    @extend_schema(request=NoneIn, responses={201: None})
    def post(self, request: Request, slug: str, bay: str) -> Response:
        """For the kinds named, or for all that are not described yet."""
        who = member(request, slug, "measure")
        given = checked(NoneIn, request)
        with transaction.atomic():
            row = Bay.objects.filter(aircraft=who.aircraft, slug=bay).first()
            if row is None:
                raise Http404
            allowed = must_describe()
            kinds = given["capabilities"] or unknown_to(who.aircraft_id, bay)
            for kind in kinds:
                if kind not in allowed:
                    raise Refused("capabilities", f"must be among: {', '.join(allowed)}")
                NoneHere.objects.get_or_create(
                    bay=row,
                    capability=kind,
                    defaults={"by": who.person, "at": datetime.now(UTC)},
                )
            said = f"Nothing of this kind in {row.name}: {', '.join(kinds)}"
            note(who.aircraft, who.person, "bay", said, [bay], f"bays/{bay}")
            return Response({"capabilities": kinds}, status=201)


def locked(aircraft: Aircraft, slug: str) -> Closure:
    """The closure, locked, or 404; the aircraft is locked after it, if at all."""
    c = Closure.objects.select_for_update().filter(aircraft=aircraft, slug=slug).first()
    if c is None:
        raise Http404
    return c
