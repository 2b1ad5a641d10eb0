"""What is printed: travel sheets and cut-out templates."""

from __future__ import annotations

from typing import Any

from django.http import Http404, HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.views import APIView

from core.basis.quantities import parse
from core.basis.refused import Refused
from core.controls.template import Card
from server.aircraft.access import member
from server.cables.api import loop_of
from server.cables.measuring import temperature
from server.cables.shown import shown
from server.cables.today import tension_today
from server.controls.facts import scope, sheet
from server.controls.lookup import control_of
from server.lines.api import run_of
from server.lines.shapes import shown as line_shown
from server.papers import template
from server.papers.bendcard import bend_card_pdf
from server.papers.rigging import rigging_pdf
from server.papers.sheet import sheet_pdf
from server.signoff import scopes
from server.signoff.signing import state

TYPES = {"pdf": "application/pdf", "svg": "image/svg+xml", "dxf": "image/vnd.dxf"}
FIELDS = ("arm_fixed", "arm_moving", "width", "notch_radius", "notch_aft", "notch_up")


class SheetPdfView(APIView):
    """A control's sheet, printed."""

    @extend_schema(responses={(200, "application/pdf"): OpenApiTypes.BINARY})
    def get(self, request: Request, slug: str, control: str) -> HttpResponse:
        """One page."""
        who = member(request, slug)
        found = control_of(who, control)
        told = scopes.scope(who.aircraft, scope(found))
        if told is None:
            raise Http404
        body = sheet_pdf(who.aircraft.name, sheet(found), state(who, told))
        return _file(body, "pdf", f"{slug}-{control}-travel")


class RiggingPdfView(APIView):
    """A control's cables, printed to carry to the aircraft."""

    @extend_schema(
        parameters=[OpenApiParameter("temperature", str)],
        responses={(200, "application/pdf"): OpenApiTypes.BINARY},
    )
    def get(self, request: Request, slug: str, control: str) -> HttpResponse:
        """One page, for a temperature as typed or that of the last reading."""
        who = member(request, slug)
        found = control_of(who, control)
        loop = loop_of(found)
        typed = request.query_params.get("temperature", "")
        at = temperature(typed) if typed.strip() else None
        try:
            today = tension_today(loop, at, "free", True, 0.5)
        except Refused:
            if typed.strip():
                raise
            today = None  # The maker's target is not entered yet: the rest is printed.
        body = rigging_pdf(who.aircraft.name, shown(found, loop), today, sheet(found))
        return _file(body, "pdf", f"{slug}-{control}-rigging")


class BendCardPdfView(APIView):
    """A tube's bend card, printed to carry to the bender."""

    @extend_schema(responses={(200, "application/pdf"): OpenApiTypes.BINARY})
    def get(self, request: Request, slug: str, line: str) -> HttpResponse:
        """One page."""
        who = member(request, slug)
        body = bend_card_pdf(who.aircraft.name, line_shown(run_of(who.aircraft, line)))
        return _file(body, "pdf", f"{slug}-{line}-bend-card")


class TemplateView(APIView):
    """A cut-out template; works without an aircraft."""

    @extend_schema(
        parameters=[
            OpenApiParameter(n, str) for n in ("included", *FIELDS, "title", "skin", "tolerance")
        ],
        responses={(200, "application/pdf"): OpenApiTypes.BINARY},
    )
    def get(self, request: Request, kind: str) -> HttpResponse:
        """As pdf, svg or dxf; lengths and angle as typed."""
        if kind not in TYPES:
            raise Http404
        asked = request.query_params
        values: dict[str, Any] = {
            "included": parse(asked.get("included", ""), "angle", "deg", "included").si
        }
        for field in FIELDS:
            if asked.get(field, "").strip():
                values[field] = parse(asked[field], "length", "mm", field).si
        for field in ("arm_fixed", "arm_moving", "width"):
            if field not in values:
                raise Refused(field, "is needed")
        label = template.Label(*(asked.get(n, "")[:60] for n in ("title", "skin", "tolerance")))
        made = getattr(template, kind)(Card(**values), label)
        return _file(made if isinstance(made, bytes) else made.encode(), kind, "template")


def _file(body: bytes, kind: str, name: str) -> HttpResponse:
    return HttpResponse(
        body,
        content_type=TYPES[kind],
        headers={"Content-Disposition": f'inline; filename="{name}.{kind}"'},
    )
