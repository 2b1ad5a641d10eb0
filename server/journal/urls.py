"""The address of what is new."""

from django.urls import path

from server.journal.api import PulseView, SinceView

urlpatterns = [
    path("aircraft/<slug:slug>/since", SinceView.as_view()),
    path("aircraft/<slug:slug>/pulse", PulseView.as_view()),
]
