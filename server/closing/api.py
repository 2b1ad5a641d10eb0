"""The lane's closures, their gates, counting tools, overriding, closing and opening."""

from __future__ import annotations

import json
from datetime import UTC, date, datetime
from typing import Any

from django.contrib.auth import authenticate
from django.db import transaction
from django.http import Http404
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from core.basis.refused import Refused
from core.signoff.closing import Concern, Lot
from core.signoff.gate import LEAST_REASON, STEPS, Item
from server.aircraft.access import check_version, may, member
from server.aircraft.concerns import must_describe
from server.aircraft.models import Aircraft, Bay, Closure, Member, NoneHere
from server.closing import gates, inspections
from server.closing.gates import Closing, as_stood
from server.closing.models import ClosureEvent, ToolCount
from server.closing.own import gather
from server.closing.shapes import (
    BayContents,
    ClosingRow,
    ClosureShown,
    EventShown,
    ItemShown,
    LaneShown,
    OverrideShown,
    StepShown,
    ToolShown,
)
from server.config.forms import checked
from server.config.shapes import answer
from server.config.text import Text
from server.journal.writing import note
from server.record.looseends import end, leave
from server.record.models import LooseEnd
from server.signoff.ledger import append
from server.signoff.models import LedgerEntry

FIRST = 6
CAUTION = (
    "You are closing over something that is not done. If it is a flight control or a fuel "
    "line, get a second person to look before you do."
)


class ToolIn(serializers.Serializer[Any]):
    """A tool counted in or out."""

    version = serializers.IntegerField(required=False, default=0)
    name = Text(max_length=60)
    went_in = serializers.IntegerField(min_value=0, max_value=999)
    came_out = serializers.IntegerField(min_value=0, max_value=999)


class OverrideIn(serializers.Serializer[Any]):
    """Which blockers, why, and the password again."""

    blockers = serializers.ListField(
        child=serializers.CharField(max_length=64), allow_empty=False, max_length=600
    )
    reason = Text(max_length=500)
    password = serializers.CharField(max_length=128, trim_whitespace=False)


class CloseIn(serializers.Serializer[Any]):
    """Closing: for good, or for dust and the night."""

    purpose = serializers.ChoiceField(choices=["final", "temporary"])


class OpenIn(serializers.Serializer[Any]):
    """Opening again, with the reason."""

    reason = Text(max_length=300)


class NoneIn(serializers.Serializer[Any]):
    """There is nothing of these kinds in a bay; empty: of all that are open."""

    capabilities = serializers.ListField(
        child=serializers.CharField(max_length=20), required=False, default=list
    )


class LaneView(APIView):
    """What stands between now and closing up."""

    @extend_schema(responses=answer(LaneShown))
    def get(self, request: Request, slug: str) -> Response:
        """The closures in the order that they are planned, each with its gate."""
        who = member(request, slug)
        behind = gather(who.aircraft)
        found = gates.all_concerns(who.aircraft, behind)
        every = sorted(gates.closings(who.aircraft, Lot(found), behind), key=_order)
        outside = [c for c in found if not c.bays and not c.closure and not c.passes]
        ours = [c for c in found if not c.closure]
        done = sum(c.passes for c in ours)
        return Response(
            LaneShown(
                closings=[row(c) for c in every],
                outside=[_shown(c) for c in outside[:50]],
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
    found = gates.closing(aircraft, slug, purpose)
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
            c = _locked(who.aircraft, closure)
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
            return Response(shown(who, closing_of(who.aircraft, closure)), status=201)


class OverrideView(APIView):
    """A named person's decision to close over what is not done."""

    @extend_schema(request=OverrideIn, responses=answer(ClosureShown, 201))
    def post(self, request: Request, slug: str, closure: str) -> Response:
        """It covers exactly these blockers as they stand, and stays visible for ever."""
        who = member(request, slug, "close")
        given = checked(OverrideIn, request)
        user = authenticate(
            request._request, username=request.user.get_username(), password=given["password"]
        )
        if user is None or user.pk != request.user.pk:
            raise Refused("password", "is not yours, or too many tries")
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


class CloseView(APIView):
    """Closing."""

    @extend_schema(request=CloseIn, responses=answer(ClosureShown, 201))
    def post(self, request: Request, slug: str, closure: str) -> Response:
        """Only when the gate lets it; the gate and the count are kept as they stood."""
        who = member(request, slug, "close")
        purpose = checked(CloseIn, request)["purpose"]
        with transaction.atomic():
            aircraft = Aircraft.objects.select_for_update().get(pk=who.aircraft_id)
            c = _locked(aircraft, closure)
            if c.closed:
                raise Refused("closure", "is closed already")
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


def put_on(c: Closure) -> str:
    """The words of the loose end that a temporary closing is."""
    return f"{c.name} put on for now"


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
            aircraft = Aircraft.objects.select_for_update().get(pk=who.aircraft_id)
            c = _locked(aircraft, closure)
            if not c.closed:
                raise Refused("closure", "is open already")
            ClosureEvent.objects.create(
                closure=c, doing="opened", reason=reason, by=who.person, at=datetime.now(UTC)
            )
            c.closed, c.version, c.changed_by = False, c.version + 1, who.person
            c.save()
            for loose in LooseEnd.objects.filter(
                aircraft=aircraft, what=put_on(c), ended_at__isnull=True
            ):
                end(loose, who.person, f"{c.name} opened")
            bays = [b.slug for b in c.bays.all()]
            said = f"{c.name} opened again: {reason}"
            note(aircraft, who.person, "closing", said, bays, f"closures/{c.slug}", True)
            return Response(shown(who, closing_of(aircraft, closure)), status=201)


class BayContentsView(APIView):
    """Everything in a bay."""

    @extend_schema(responses=answer(BayContents))
    def get(self, request: Request, slug: str, bay: str) -> Response:
        """What is open in it, what is done, and the closures over it."""
        who = member(request, slug)
        row_of = Bay.objects.filter(aircraft=who.aircraft, slug=bay).first()
        if row_of is None:
            raise Http404
        behind = gather(who.aircraft)
        lot = Lot(gates.all_concerns(who.aircraft, behind))
        order = list(STEPS)
        here = sorted(lot.in_bay(bay), key=lambda c: order.index(c.step))
        over = [c for c in gates.closings(who.aircraft, lot, behind) if bay in c.bays]
        said = NoneHere.objects.filter(bay=row_of).select_related("by")
        return Response(
            BayContents(
                slug=bay,
                name=row_of.name,
                items=[_shown(c) for c in here if not c.passes],
                done=[_shown(c) for c in here if c.passes],
                undescribed=undescribed_of(who.aircraft_id, bay),
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
            kinds = given["capabilities"] or undescribed_of(who.aircraft_id, bay)
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


def undescribed_of(aircraft: int, bay: str) -> list[str]:
    """The capabilities that know nothing of this bay."""
    from server.aircraft.concerns import undescribed

    return [c.id.removesuffix(f" in {bay}") for c in undescribed(aircraft) if c.bays == (bay,)]


def _locked(aircraft: Aircraft, slug: str) -> Closure:
    c = Closure.objects.select_for_update().filter(aircraft=aircraft, slug=slug).first()
    if c is None:
        raise Http404
    return c


def row(c: Closing) -> ClosingRow:
    """A closure in short."""
    subjects = c.subjects
    first = [_item(i, subjects[i.step, i.id]) for i in c.gate.blockers[:FIRST]]
    return ClosingRow(
        slug=c.closure.slug,
        name=c.closure.name,
        permanent=c.closure.permanent,
        above=c.closure.above,
        closed=c.closure.closed,
        bays=c.bays,
        planned_on=c.closure.planned_on.isoformat() if c.closure.planned_on else "",
        state=c.gate.state,
        blockers=len(c.gate.blockers),
        steps=[StepShown(step=s, passing=p, failing=f) for s, p, f in c.steps()],
        first=first,
        overrides=[_override_shown(e) for e in c.overrides],
    )


def shown(who: Member, c: Closing) -> ClosureShown:
    """A closure in full."""
    subjects = c.subjects
    turn = inspections.opened_times(c.closure.pk)
    tools = ToolCount.objects.filter(closure=c.closure, turn=turn)
    events = ClosureEvent.objects.filter(closure=c.closure).select_related("by").order_by("-id")
    return ClosureShown(
        **row(c),
        version=c.closure.version,
        items=[_item(i, subjects[i.step, i.id]) for i in c.gate.blockers],
        carried=[_item(i, subjects[i.step, i.id]) for i in c.gate.carried],
        tools=[tool_shown(t) for t in tools],
        events=[
            EventShown(
                doing=e.doing,
                purpose=e.purpose,
                reason=e.reason,
                by=e.by.name,
                at=e.at.isoformat(),
                gate=e.gate,
                counted=e.counted,
            )
            for e in events
        ],
        inspection_needed=c.closure.inspection_needed,
        photo_needed=c.closure.photo_needed,
        can_close=may(who, "close"),
    )


def _item(i: Item, c: Concern) -> ItemShown:
    return _shown(c) | ItemShown(hash=i.hash)  # type: ignore[return-value,typeddict-item]


def _shown(c: Concern) -> ItemShown:
    return ItemShown(
        step=c.step,
        id=c.id,
        subject=c.subject,
        state=c.state,
        verdict=c.verdict.value,
        owner=c.owner,
        link=c.link,
        bays=list(c.bays),
        hash="",
    )


def _override_shown(e: LedgerEntry) -> OverrideShown:
    body = json.loads(e.body)
    return OverrideShown(
        seq=e.seq,
        by=e.by.name,
        at=body["at"],
        reason=body["reason"],
        covers=[f"{b['subject']}: {b['state']}" for b in body["blockers"]],
    )


def tool_shown(t: ToolCount) -> ToolShown:
    """A counted tool."""
    return ToolShown(
        id=t.pk, version=t.version, name=t.name, went_in=t.went_in, came_out=t.came_out
    )
