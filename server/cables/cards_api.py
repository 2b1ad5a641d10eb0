"""Calibration cards of tension instruments, and the shipped figures."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from django.http import Http404
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from core.basis.quantities import parse
from core.basis.reference import table
from core.basis.refused import Refused
from server.aircraft.access import check_version, member
from server.aircraft.models import Member
from server.cables import forms, measuring, shapes
from server.cables.models import CalibrationCard
from server.config.shapes import answer
from server.instruments.models import Instrument
from server.journal.writing import note
from server.kit.writing import Act, Write, writes


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


def _tension_gauge(who: Member, at: Mapping[str, Any]) -> Instrument:
    """A tension instrument of this aircraft, locked."""
    rows = Instrument.objects.select_for_update()
    found = rows.filter(aircraft=who.aircraft, pk=at["instrument"], kind="tension").first()
    if found is None:
        raise Http404
    return found


def _put_card(act: Act) -> None:
    one, given = act.subject, act.given
    card = CalibrationCard.objects.filter(instrument=one).first()
    if card is not None:
        check_version(card, given["version"], card.typed, given["typed"])
    put_card(one, given["typed"], given["u"], act.who.person, card)
    note(one.aircraft, act.who.person, "instrument", f"{one.name}: calibration card", (), "cables")


class CardView(APIView):
    """One instrument's calibration card."""

    put = writes(
        Write(
            ("measure",),
            forms.CardIn,
            _tension_gauge,
            _put_card,
            lambda act: _cards(act.who.aircraft_id),
            shapes.CardsPage,
            200,
        ),
        "Keep it as typed; readings taken before keep the card they were converted by.",
    )


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
