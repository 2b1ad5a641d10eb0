"""Addresses of what is printed."""

from django.urls import path

from server.papers import lines_api as lines
from server.papers import weight_api as weight
from server.papers.api import BendCardPdfView, RiggingPdfView, SheetPdfView, TemplateView

LINE = "aircraft/<slug:slug>/lines/<slug:line>"
SHEET = "aircraft/<slug:slug>/worksheets/<slug:sheet>"

urlpatterns = [
    path("aircraft/<slug:slug>/controls/<slug:control>/sheet.pdf", SheetPdfView.as_view()),
    path(
        "aircraft/<slug:slug>/controls/<slug:control>/cables/rigging-sheet.pdf",
        RiggingPdfView.as_view(),
    ),
    path("aircraft/<slug:slug>/lines/<slug:line>/card.pdf", BendCardPdfView.as_view()),
    path(f"{LINE}/template.pdf", lines.TubeTemplateView.as_view()),
    path(f"{LINE}/turns.pdf", lines.TubeGaugeView.as_view()),
    path(f"{LINE}/shape.<str:kind>", lines.TubeShapeView.as_view()),
    path("aircraft/<slug:slug>/harness/labels.pdf", lines.LabelsPdfView.as_view()),
    path(f"{SHEET}/sheet.pdf", lines.WorksheetPdfView.as_view()),
    path(f"{SHEET}/scale.pdf", lines.WorksheetScaleView.as_view()),
    path(f"{SHEET}/rows/<slug:table>.csv", lines.WorksheetRowsView.as_view()),
    path(f"{SHEET}/due.ics", lines.WorksheetDueView.as_view()),
    path(
        "aircraft/<slug:slug>/weight/rows/<slug:entry>/record.pdf", weight.WeighingPdfView.as_view()
    ),
    path("aircraft/<slug:slug>/weight/made/<slug:paper>.pdf", weight.WeightPdfView.as_view()),
    path("aircraft/<slug:slug>/weight/weight.json", weight.WeightJsonView.as_view()),
    path("template.<str:kind>", TemplateView.as_view()),
]
