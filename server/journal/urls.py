"""The address of what is new."""

from django.urls import path

from server.journal.api import SinceView

urlpatterns = [path("aircraft/<slug:slug>/since", SinceView.as_view())]
