"""Addresses of signatures and the ledger."""

from django.urls import path

from server.signoff.api import LedgerCheckView, LedgerView, SignaturesView

urlpatterns = [
    path("aircraft/<slug:slug>/signatures/<str:scope>", SignaturesView.as_view()),
    path("aircraft/<slug:slug>/ledger", LedgerView.as_view()),
    path("aircraft/<slug:slug>/ledger/check", LedgerCheckView.as_view()),
]
