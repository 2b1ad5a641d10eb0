"""Addresses of weight and balance."""

from django.urls import path

from server.weight import api

AT = "aircraft/<slug:slug>/weight"
ROW = f"{AT}/rows/<slug:entry>"

urlpatterns = [
    path(AT, api.WeightView.as_view()),
    path(f"{AT}/pasted", api.WeightPastedView.as_view()),
    path(f"{AT}/try", api.WeightTryView.as_view()),
    path(f"{AT}/datum", api.WeightDatumView.as_view()),
    path(f"{AT}/lists/<slug:listed>", api.WeightListView.as_view()),
    path(ROW, api.WeightRowView.as_view()),
    path(f"{ROW}/steps", api.WeighStepsView.as_view()),
    path(f"{ROW}/steps/<int:event>/undo", api.WeighUndoView.as_view()),
    path(f"{ROW}/capture", api.WeighCaptureView.as_view()),
    path(f"{ROW}/settling", api.WeighSettlingView.as_view()),
    path(f"{ROW}/removal", api.WeightRemovalView.as_view()),
]
