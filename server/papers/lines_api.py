"""What is taken away of lines and worksheets: PDF, DXF, JSON, rows, a calendar."""

from __future__ import annotations

from datetime import date

from django.http import Http404, HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.views import APIView

from server.aircraft.access import member
from server.kit.standing import of_subject
from server.lines.api import run_of
from server.lines.entering import line_of
from server.lines.shapes import shown as line_shown
from server.papers import tube, worksheet
from server.papers.labels import labels_pdf
from server.papers.rows import rows_csv
from server.wires.reading import harness_of
from server.worksheets.models import Worksheet
from server.worksheets.shapes import shown

TYPES = {
    "pdf": "application/pdf",
    "dxf": "image/vnd.dxf",
    "json": "application/json",
    "csv": "text/csv; charset=utf-8",
    "ics": "text/calendar; charset=utf-8",
}


def made_file(body: bytes | None, kind: str, name: str) -> HttpResponse:
    """A file of that name; 404 of none."""
    if body is None:
        raise Http404
    headers = {"Content-Disposition": f'inline; filename="{name}.{kind}"'}
    return HttpResponse(body, content_type=TYPES[kind], headers=headers)


class TubeShapeView(APIView):
    """A tube's shape for other programs."""

    @extend_schema(responses={(200, "image/vnd.dxf"): OpenApiTypes.BINARY})
    def get(self, request: Request, slug: str, line: str, kind: str) -> HttpResponse:
        """dxf: its centreline in the aircraft, mm; json: its card."""
        found = run_of(member(request, slug).aircraft, line)
        if kind == "dxf":
            return made_file(tube.shape_dxf(line_of(found)), kind, f"{slug}-{line}")
        if kind == "json":
            return made_file(tube.shape_json(line_shown(found)), kind, f"{slug}-{line}")
        raise Http404


class TubeTemplateView(APIView):
    """A flat tube's template."""

    @extend_schema(responses={(200, "application/pdf"): OpenApiTypes.BINARY})
    def get(self, request: Request, slug: str, line: str) -> HttpResponse:
        """1:1, on as many pages as it needs; refused of a tube that does not lie flat."""
        found = line_of(run_of(member(request, slug).aircraft, line))
        return made_file(tube.template_pdf(found), "pdf", f"{slug}-{line}-template")


class TubeGaugeView(APIView):
    """A gauge of a tube's turns."""

    @extend_schema(responses={(200, "application/pdf"): OpenApiTypes.BINARY})
    def get(self, request: Request, slug: str, line: str) -> HttpResponse:
        """1:1, to wrap around it."""
        found = line_of(run_of(member(request, slug).aircraft, line))
        return made_file(tube.gauge_pdf(found), "pdf", f"{slug}-{line}-turns")


def _sheet(request: Request, slug: str, name: str) -> Worksheet:
    who = member(request, slug)
    rows = Worksheet.objects.select_related("source", "aircraft")
    found = rows.filter(aircraft=who.aircraft, slug=name).first()
    if found is None:
        raise Http404
    return found


class LabelsPdfView(APIView):
    """Labels of wires, printed."""

    @extend_schema(responses={(200, "application/pdf"): OpenApiTypes.BINARY})
    def get(self, request: Request, slug: str) -> HttpResponse:
        """Two for each wire, each with a code that opens its page."""
        aircraft = member(request, slug).aircraft

        def address(wire: str) -> str:
            return request.build_absolute_uri(f"/a/{slug}/wires?part=harness&row={wire}")

        body = labels_pdf(aircraft.name, harness_of(aircraft), address)
        return made_file(body, "pdf", f"{slug}-wire-labels")


class WorksheetPdfView(APIView):
    """A worksheet, printed."""

    @extend_schema(responses={(200, "application/pdf"): OpenApiTypes.BINARY})
    def get(self, request: Request, slug: str, sheet: str) -> HttpResponse:
        """One page with what was asked and answered, to sign by hand."""
        w = _sheet(request, slug, sheet)
        body = worksheet.sheet_pdf(w.aircraft.name, w, shown(w))
        return made_file(body, "pdf", f"{slug}-{sheet}")


class WorksheetRowsView(APIView):
    """A table of a worksheet."""

    @extend_schema(responses={(200, "text/csv"): OpenApiTypes.STR})
    def get(self, request: Request, slug: str, sheet: str, table: str) -> HttpResponse:
        """Its rows as they were typed, for a spreadsheet and back; 404 where it has no such
        table."""
        w = _sheet(request, slug, sheet)
        return made_file(rows_csv(w, table), "csv", f"{slug}-{sheet}-{table}")


class WorksheetScaleView(APIView):
    """What of a worksheet is drawn to be held against the thing itself."""

    @extend_schema(responses={(200, "application/pdf"): OpenApiTypes.BINARY})
    def get(self, request: Request, slug: str, sheet: str) -> HttpResponse:
        """1:1; 404 where nothing is."""
        w = _sheet(request, slug, sheet)
        body = worksheet.scale_pdf(w, dict(shown(w)["worked"]["figure"]))
        return made_file(body, "pdf", f"{slug}-{sheet}-scale")


class WorksheetDueView(APIView):
    """A worksheet's days for a calendar."""

    @extend_schema(responses={(200, "text/calendar"): OpenApiTypes.STR})
    def get(self, request: Request, slug: str, sheet: str) -> HttpResponse:
        """iCalendar; 404 where nothing ends by itself."""
        w = _sheet(request, slug, sheet)
        checks = of_subject(w.aircraft_id, "worksheets", w.slug)
        days = [(date.fromisoformat(x["on"]), x["what"] or c.what) for c in checks for x in c.later]
        return made_file(worksheet.calendar(w, days), "ics", f"{slug}-{sheet}")
