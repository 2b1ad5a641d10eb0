"""Addresses of worksheets."""

from django.urls import path

from server.worksheets import again, api

AT = "aircraft/<slug:slug>"

urlpatterns = [
    path(f"{AT}/worksheets", api.WorksheetsView.as_view()),
    path(f"{AT}/worksheets/<slug:sheet>", api.WorksheetView.as_view()),
    path(f"{AT}/worksheets/<slug:sheet>/removal", api.WorksheetRemovalView.as_view()),
    path(f"{AT}/worksheets/<slug:sheet>/readings", again.WorksheetReadingsView.as_view()),
    path(f"{AT}/worksheets/<slug:sheet>/undo", again.WorksheetUndoView.as_view()),
    path(f"{AT}/worksheet-trial", api.WorksheetTryView.as_view()),
]
