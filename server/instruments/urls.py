"""Addresses of instruments."""

from django.urls import path

from server.instruments.api import (
    InstrumentRemovalView,
    InstrumentsView,
    InstrumentView,
    PollView,
)

urlpatterns = [
    path("aircraft/<slug:slug>/instruments", InstrumentsView.as_view()),
    path("aircraft/<slug:slug>/instruments/<int:instrument>", InstrumentView.as_view()),
    path(
        "aircraft/<slug:slug>/instruments/<int:instrument>/removal",
        InstrumentRemovalView.as_view(),
    ),
    path("aircraft/<slug:slug>/instruments/<int:instrument>/poll", PollView.as_view()),
]
