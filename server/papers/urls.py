"""Addresses of what is printed."""

from django.urls import path

from server.papers.api import BendCardPdfView, RiggingPdfView, SheetPdfView, TemplateView

urlpatterns = [
    path("aircraft/<slug:slug>/controls/<slug:control>/sheet.pdf", SheetPdfView.as_view()),
    path(
        "aircraft/<slug:slug>/controls/<slug:control>/cables/rigging-sheet.pdf",
        RiggingPdfView.as_view(),
    ),
    path("aircraft/<slug:slug>/lines/<slug:line>/card.pdf", BendCardPdfView.as_view()),
    path("template.<str:kind>", TemplateView.as_view()),
]
