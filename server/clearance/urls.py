"""Addresses of clearances."""

from django.urls import path

from server.clearance import api

AT = "aircraft/<slug:slug>/clearance"
ROW = f"{AT}/rows/<slug:shape>"

urlpatterns = [
    path(AT, api.ClearanceView.as_view()),
    path(f"{AT}/pasted", api.ClearancePastedView.as_view()),
    path(f"{AT}/pairs", api.ClearancePairsView.as_view()),
    path(f"{AT}/pairs/<int:event>/undo", api.ClearanceUndoView.as_view()),
    path(f"{AT}/film", api.ClearanceFilmView.as_view()),
    path(f"{AT}/move", api.ClearanceMoveView.as_view()),
    path(f"{AT}/list", api.ClearanceListView.as_view()),
    path(ROW, api.ClearanceRowView.as_view()),
    path(f"{ROW}/removal", api.ClearanceRemovalView.as_view()),
]
