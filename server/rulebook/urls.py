"""Addresses of the rule book."""

from django.urls import path

from server.rulebook.api import RulesView, RuleView

urlpatterns = [path("rules", RulesView.as_view()), path("rules/<str:rule>", RuleView.as_view())]
