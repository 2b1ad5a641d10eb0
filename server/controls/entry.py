"""The entry bar: a line understood with the aircraft's own names; nothing is saved here."""

from __future__ import annotations

from typing import Any

from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from core.basis.refused import Refused
from core.controls.entry import Jump, Known, Typed, understand
from server.aircraft.access import member
from server.aircraft.models import Aircraft
from server.config.shapes import answer
from server.controls import forms, shapes
from server.controls.api import checked, control_of, preview
from server.controls.facts import current_round
from server.controls.models import Control, Reading, Surface
from server.instruments.models import Instrument

PAGES = ("lane", "controls", "sign-off", "rule book", "aircraft")


class EntryView(APIView):
    """What a line typed into the entry bar means."""

    stateless = True

    @extend_schema(request=forms.EntryIn, responses=answer(shapes.EntryPreview))
    def post(self, request: Request, slug: str) -> Response:
        """A jump, or a reading with its preview; refused by reason if neither."""
        who = member(request, slug)
        controls = list(who.aircraft.controls.prefetch_related("surfaces"))
        instruments = list(Instrument.objects.filter(aircraft=who.aircraft))
        known = [
            Known(s.slug, c.slug, s.side, tuple(c.positions))
            for c in controls
            for s in c.surfaces.all()
        ]
        pages = [*PAGES, *(c.slug for c in controls)]
        said = understand(
            checked(forms.EntryIn, request)["line"], known, [i.name for i in instruments], pages
        )
        if isinstance(said, Jump):
            return Response(
                shapes.EntryPreview(
                    kind="jump", page=said.page, control="", reading=None, preview=None
                )
            )
        control = control_of(who, next(k.control for k in known if k.id == said.surface))
        reading = as_reading(who.aircraft, control, said, instruments)
        form = forms.ReadingIn(data=reading)
        form.is_valid(raise_exception=True)
        return Response(
            shapes.EntryPreview(
                kind="reading",
                page="",
                control=control.slug,
                reading=reading,
                preview=preview(control, form.validated_data, who),
            )
        )


def as_reading(
    aircraft: Aircraft, control: Control, said: Typed, instruments: list[Instrument]
) -> dict[str, Any]:
    """The reading in full: what the line leaves open is taken from the last one here."""
    surface: Surface = control.surfaces.get(slug=said.surface)
    rows = Reading.objects.filter(surface=surface, round=current_round(control))
    named = next((i for i in instruments if i.name == said.instrument), None)
    if named:
        rows = rows.filter(instrument=named)
    last = rows.filter(position=said.position).last() or rows.last()
    if last is not None:
        return {
            "surface": surface.slug,
            "position": said.position,
            "method": last.method,
            "practice": last.practice,
            "value": said.value,
            "instrument": last.instrument_id,
            "zero": last.zero,
            "sense": last.sense,
            "side": last.side,
            "skin": last.skin,
            "place": last.place,
        }
    if named is None:
        raise Refused("entry", "the first reading here needs an instrument: put its name last")
    length = named.kind == "length"
    return {
        "surface": surface.slug,
        "position": said.position,
        "method": "edge_offset" if length else "gauge_difference",
        "practice": "straight" if length else "",
        "value": said.value,
        "instrument": named.pk,
        "zero": "level",
    }
