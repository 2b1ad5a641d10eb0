"""Addresses of the rule book."""

from django.urls import path

from server.rulebook.api import RulesView, RuleView, WorkingView

urlpatterns = [
    path("rules", RulesView.as_view()),
    path("rules/<str:rule>", RuleView.as_view()),
    path("rules/<str:rule>/working", WorkingView.as_view()),
]
