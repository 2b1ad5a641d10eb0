"""Addresses of the entry bar."""

from django.urls import path

from server.entry import api

AT = "aircraft/<slug:slug>/entry"

urlpatterns = [
    path(AT, api.EntryView.as_view()),
    path(f"{AT}/examples", api.ExamplesView.as_view()),
    path(f"{AT}/completions", api.CompletionsView.as_view()),
]
