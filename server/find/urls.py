"""The address of Find."""

from django.urls import path

from server.find.api import FindView

urlpatterns = [path("aircraft/<slug:slug>/find", FindView.as_view())]
