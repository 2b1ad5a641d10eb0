"""What is taken away of weight and balance: records, equipment list, loading sheet, all as JSON."""

from __future__ import annotations

import json

from django.http import Http404, HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.views import APIView

from core.weight.book import Book
from core.weight.rows import LIMITS, WEIGHING
from server.aircraft.access import member
from server.aircraft.models import Aircraft
from server.papers import weight
from server.papers.lines_api import made_file
from server.weight.models import WeightRow
from server.weight.reading import book_of
from server.weight.shapes import page, shown


def _cited(aircraft: Aircraft) -> str:
    row = WeightRow.objects.filter(aircraft=aircraft, kind=LIMITS).first()
    return row.cited if row else ""


class WeighingPdfView(APIView):
    """A weighing, printed."""

    @extend_schema(responses={(200, "application/pdf"): OpenApiTypes.BINARY})
    def get(self, request: Request, slug: str, entry: str) -> HttpResponse:
        """The weight and balance record on a page, to sign by hand."""
        aircraft = member(request, slug).aircraft
        b = book_of(aircraft)
        w = next((x for x in b.of(WEIGHING) if x.slug == entry), None)
        if w is None:
            raise Http404
        body = weight.record_pdf(aircraft.name, b, w, shown(aircraft, entry), _cited(aircraft))
        return made_file(body, "pdf", f"{slug}-{entry}")


class WeightPdfView(APIView):
    """The equipment list, or a loading sheet, printed."""

    @extend_schema(responses={(200, "application/pdf"): OpenApiTypes.BINARY})
    def get(self, request: Request, slug: str, paper: str) -> HttpResponse:
        """On a page; the loading sheet with a graph to reckon on by hand."""
        aircraft = member(request, slug).aircraft
        b: Book = book_of(aircraft)
        makers = {"equipment": weight.equipment_pdf, "loading": weight.loading_pdf}
        if paper not in makers:
            raise Http404
        body = makers[paper](aircraft.name, b, _cited(aircraft))
        return made_file(body, "pdf", f"{slug}-{paper}")


class WeightJsonView(APIView):
    """All of weight and balance for other programs."""

    @extend_schema(responses={(200, "application/json"): OpenApiTypes.OBJECT})
    def get(self, request: Request, slug: str) -> HttpResponse:
        """Every row as typed, with what is said of it; SI and mm where worked out."""
        found = page(member(request, slug).aircraft)
        keep = ("results", "checks", "ledger", "estimate", "worst", "ballast", "effect")
        body = {"format": "weight and balance", "edition": 1, **{k: found[k] for k in keep}}  # type: ignore[literal-required]
        return made_file(
            json.dumps(body, ensure_ascii=False, indent=1).encode(), "json", f"{slug}-weight"
        )
