"""Signing a control's sheet, the ledger, and its check."""

from __future__ import annotations

from typing import Any

from django.db import transaction
from django.http import Http404
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from core.basis.refused import Refused
from server.accounts.passwords import confirm
from server.aircraft.access import member
from server.aircraft.models import Aircraft
from server.config.forms import Form
from server.config.paging import Pages
from server.config.problems import Conflict
from server.config.shapes import answer
from server.config.text import text
from server.signoff import ledger, scopes
from server.signoff.changes import entries_shown, since_seen
from server.signoff.models import LedgerEntry
from server.signoff.shapes import Checked, LedgerShown, SignState
from server.signoff.signing import sign, state


class SignAs(Form):
    """What is signed as, with the password again."""

    doing = serializers.ChoiceField(choices=["done", "inspected", "refuse"])
    password = serializers.CharField(max_length=128, trim_whitespace=False)
    seen = serializers.DictField(
        child=serializers.CharField(max_length=64), help_text="The state that was looked at."
    )
    statement = text(300)
    reason = text(500)


class Witness(Form):
    """A head seen earlier, if there is one."""

    seq = serializers.IntegerField(required=False, allow_null=True, min_value=1)
    hash = serializers.CharField(required=False, allow_blank=True, max_length=64, default="")


class SignaturesView(APIView):
    """Signatures on one scope, such as `control:elevator`."""

    @extend_schema(responses=answer(SignState))
    def get(self, request: Request, slug: str, scope: str) -> Response:
        """What was signed, whether it holds, and what you may do."""
        who = member(request, slug)
        return Response(state(who, self._scope(who.aircraft, scope)))

    @extend_schema(request=SignAs, responses=answer(SignState, 201))
    def post(self, request: Request, slug: str, scope: str) -> Response:
        """Sign or refuse; the password is asked again."""
        who = member(request, slug)
        asked = SignAs(data=request.data)
        asked.is_valid(raise_exception=True)
        given = asked.validated_data
        confirm(request, given["password"])
        with transaction.atomic():
            aircraft = Aircraft.objects.select_for_update().get(pk=who.aircraft_id)
            found = self._scope(aircraft, scope)
            if other := since_seen(aircraft, found.name, given["seen"]):
                said = f"Since you looked: {'; '.join(other[:4])}"
                more = f"; and {len(other) - 4} more" if len(other) > 4 else ""
                theirs = {"changed": "; ".join(other)}
                raise Conflict(theirs, {}, f"{said}{more}. Look again, then sign.")
            sign(who, found, given["doing"], given["statement"], given["reason"])
            return Response(state(who, found), status=201)

    @staticmethod
    def _scope(aircraft: Aircraft, name: str) -> Any:
        found = scopes.scope(aircraft, name)
        if found is None:
            raise Http404
        return found


class LedgerView(APIView):
    """The ledger of an aircraft."""

    @extend_schema(responses=answer(LedgerShown))
    def get(self, request: Request, slug: str) -> Response:
        """Entries, newest first, with what has changed since."""
        who = member(request, slug)
        pages = Pages()
        rows = LedgerEntry.objects.filter(aircraft=who.aircraft).select_related("by")
        page: list[LedgerEntry] = (
            pages.paginate_queryset(rows.order_by("-seq"), request, self) or []
        )
        count: Any = pages.page.paginator.count if pages.page else 0
        return Response(
            LedgerShown(
                count=count,
                results=entries_shown(who.aircraft, page),
                head=ledger.head(who.aircraft),
            )
        )


class LedgerCheckView(APIView):
    """The check of the chain and of the facts that it covers."""

    stateless = True

    @extend_schema(request=Witness, responses=answer(Checked))
    def post(self, request: Request, slug: str) -> Response:
        """Check it, with a head seen earlier as witness if one is given."""
        who = member(request, slug)
        asked = Witness(data=request.data)
        asked.is_valid(raise_exception=True)
        seq, digest = asked.validated_data.get("seq"), asked.validated_data["hash"]
        if (seq is None) != (not digest):
            raise Refused("hash" if seq else "seq", "a witness has a number and a hash")
        witness = {"seq": seq, "hash": digest} if seq else None
        return Response(ledger.check(who.aircraft, witness))
