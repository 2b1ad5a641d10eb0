"""Addresses of aircraft."""

from django.urls import path

from server.aircraft.api import AircraftListView, AircraftView

urlpatterns = [
    path("aircraft", AircraftListView.as_view()),
    path("aircraft/<slug:slug>", AircraftView.as_view()),
]
