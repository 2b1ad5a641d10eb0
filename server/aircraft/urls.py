"""Addresses of aircraft."""

from django.urls import path

from server.aircraft.api import AircraftListView

urlpatterns = [path("aircraft", AircraftListView.as_view())]
