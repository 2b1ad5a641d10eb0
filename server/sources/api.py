"""Documents, and deciding where they disagree."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Any

from django.db import transaction
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from core.basis.refused import Refused
from core.signoff.gate import LEAST_REASON
from server.aircraft.access import member
from server.aircraft.models import Aircraft, Member, Source
from server.config.forms import Form, checked
from server.config.shapes import answer
from server.config.text import Text
from server.journal.writing import note
from server.kit.removing import one_of, reason_of, removal
from server.kit.writing import Act, Write, writes
from server.signoff.ledger import append
from server.sources.conflicts import Group, groups, seen
from server.sources.models import Resolution
from server.sources.page import SourcesShown, page
from server.sources.registry import registry


class ResolveIn(Form):
    """Which statement counts, and why."""

    thing = Text(max_length=120)
    chosen = Text(max_length=120)
    reason = Text(max_length=300)


class ReviseIn(Form):
    """A new revision of a document."""

    version = serializers.IntegerField()
    revision = Text(max_length=20)
    dated = serializers.DateField(required=False, allow_null=True, default=None)
    reason = Text(max_length=200)


class SourcesPageView(APIView):
    """Everything about documents on one page."""

    @extend_schema(responses=answer(SourcesShown))
    def get(self, request: Request, slug: str) -> Response:
        """Documents, conflicts, odd tolerances, bulletins."""
        who = member(request, slug)
        return Response(page(who.aircraft))


class ResolveView(APIView):
    """Deciding between documents: a ledger entry."""

    @extend_schema(request=ResolveIn, responses=answer(SourcesShown, 201))
    def post(self, request: Request, slug: str) -> Response:
        """Choose a statement (by its key) or write an own value, with the reason."""
        who = member(request, slug, "change facts")
        given = checked(ResolveIn, request)
        if len(given["reason"].strip()) < LEAST_REASON:
            raise Refused("reason", f"say who answered and what, in {LEAST_REASON} characters")
        with transaction.atomic():
            found = _group_of(who, given["thing"])
            kind = given["chosen"].partition(":")[0]
            if kind in registry.deciders:
                # It locks its own rows first, and the aircraft after them.
                registry.deciders[kind](who, given["chosen"], given["reason"])
            if not found.decider:
                Aircraft.objects.select_for_update().get(pk=who.aircraft_id)
                _resolve(who, _group_of(who, given["thing"]), given)
            return Response(page(Aircraft.objects.get(pk=who.aircraft_id)), status=201)


def _group_of(who: Member, thing: str) -> Group:
    """What the documents say of this thing; refuses what fewer than two speak of."""
    for g in groups([who.aircraft_id]):
        if g.thing.casefold() == thing.casefold():
            return g
    raise Refused("thing", "is not something that two documents speak of")


def _resolve(who: Member, g: Group, given: dict[str, Any]) -> None:
    side = next((s for s in g.sides if s.key == given["chosen"]), None)
    chosen = f"{side.cited}: {side.shown}" if side else f"own value: {given['chosen']}"
    now = datetime.now(UTC)
    Resolution.objects.create(
        aircraft=who.aircraft,
        thing=g.thing,
        chosen=chosen,
        reason=given["reason"].strip(),
        seen=seen(g.sides),
        by=who.person,
        at=now,
    )
    scope = f"source:{g.thing}"[:80]
    body = {
        "at": now.strftime("%Y-%m-%dT%H:%M:%SZ"),
        "by": who.person.slug,
        "scope": scope,
        "chosen": chosen,
        "seen": seen(g.sides),
        "reason": given["reason"].strip(),
    }
    append(who.aircraft, "resolution", scope, who.person, body)
    bays = [s.bay for s in g.sides[:1]]
    note(who.aircraft, who.person, "source", f"Decided: {g.thing}: {chosen}", bays, "sources")


def _revised(act: Act) -> None:
    row, who = act.subject, act.who
    reason = reason_of(act.given, "what is new in it, or that it was mistyped")
    was = row.cited
    row._change_reason = reason
    row.revision, row.dated = act.given["revision"], act.given["dated"]
    row.version, row.changed_by = row.version + 1, who.person
    row.save()
    for told in registry.revised:
        told(who.aircraft, row)
    said = f"{was} is now rev {row.revision}, because {reason}"
    note(who.aircraft, who.person, "source", said, (), "sources")


class DocumentView(APIView):
    """A new revision of a document."""

    patch = writes(
        Write(
            ("change facts",),
            ReviseIn,
            one_of(Source, "source"),
            _revised,
            lambda act: page(act.who.aircraft),
            SourcesShown,
            200,
            shown=lambda row: {"title": row.title, "revision": row.revision},
        ),
        "What was signed or decided under the old one goes stale.",
    )


class DocumentRemovalView(APIView):
    """Taking a document away that nothing cites."""

    post = writes(
        removal(
            "document",
            one_of(Source, "source"),
            name=lambda row: str(row.cited),
            link="sources",
        ),
        "Refused where anything cites it; 409 on an old version.",
    )
