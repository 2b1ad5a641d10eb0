"""Calibration cards of tension instruments, and the shipped figures."""

from __future__ import annotations

from typing import Any

from django.db import transaction
from django.http import Http404
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from core.basis.quantities import parse
from core.basis.reference import table
from core.basis.refused import Refused
from server.aircraft.access import check_version, member
from server.cables import forms, measuring, shapes
from server.cables.models import CalibrationCard
from server.config.forms import checked
from server.config.shapes import answer
from server.instruments.models import Instrument


class ReferenceView(APIView):
    """The shipped cables and expansions."""

    @extend_schema(responses=answer(shapes.ReferenceShown))
    def get(self, request: Request) -> Response:
        """With their sources."""
        return Response(shapes.ReferenceShown(cables=table("cables"), expansion=table("expansion")))


class CardsView(APIView):
    """The calibration cards of an aircraft's instruments."""

    @extend_schema(responses=answer(shapes.CardsPage))
    def get(self, request: Request, slug: str) -> Response:
        """All of them."""
        return Response(_cards(member(request, slug).aircraft_id))


def _cards(aircraft: int) -> shapes.CardsPage:
    found = CalibrationCard.objects.filter(aircraft=aircraft).order_by("id")
    shown_cards = [
        shapes.CardShown(
            instrument=c.instrument_id,
            version=c.version,
            typed=c.typed,
            u_typed=c.u_typed,
            tables=c.tables,
        )
        for c in found
    ]
    return shapes.CardsPage(count=len(shown_cards), results=shown_cards)


class CardView(APIView):
    """One instrument's calibration card."""

    @extend_schema(request=forms.CardIn, responses=answer(shapes.CardsPage))
    def put(self, request: Request, slug: str, instrument: int) -> Response:
        """Keep it as typed; readings taken before keep the card they were converted by."""
        who = member(request, slug, "measure")
        given = checked(forms.CardIn, request)
        with transaction.atomic():
            rows_of = Instrument.objects.select_for_update()
            one = rows_of.filter(aircraft=who.aircraft, pk=instrument, kind="tension").first()
            if one is None:
                raise Http404
            card = CalibrationCard.objects.filter(instrument=one).first()
            if card is not None:
                check_version(card, given["version"], card.typed, given["typed"])
            put_card(one, given["typed"], given["u"], who.person, card)
        return Response(_cards(who.aircraft_id))


def put_card(
    one: Instrument, typed: str, u: str, by: Any, card: CalibrationCard | None = None
) -> None:
    """Understand a typed card and keep it; refuses by row."""
    card = card or CalibrationCard(aircraft=one.aircraft, instrument=one, version=0)
    card.tables, card.typed = measuring.card_from(typed), typed
    card.u_card_N = parse(u, "force", "lbf", "u").si if u.strip() else 0.0
    if card.u_card_N < 0:
        raise Refused("u", "must not be negative")
    card.u_typed, card.version, card.changed_by = u, card.version + 1, by
    card.save()
