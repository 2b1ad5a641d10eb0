"""Addresses of the harness."""

from django.urls import path

from server.wires import api

AT = "aircraft/<slug:slug>/harness"

urlpatterns = [
    path(AT, api.HarnessView.as_view()),
    path(f"{AT}/wires", api.WiresPastedView.as_view()),
    path(f"{AT}/section", api.HarnessSectionView.as_view()),
    path(f"{AT}/lists/<slug:made>", api.HarnessListView.as_view()),
    path(f"{AT}/rows/<slug:row>", api.HarnessRowView.as_view()),
    path(f"{AT}/rows/<slug:row>/steps", api.WireStepsView.as_view()),
    path(f"{AT}/rows/<slug:row>/steps/<int:event>/undo", api.WireUndoView.as_view()),
    path(f"{AT}/rows/<slug:row>/removal", api.HarnessRemovalView.as_view()),
]
