"""Addresses of the lane, closures and their gates."""

from django.urls import path

from server.closing import api, events, frame

AT = "aircraft/<slug:slug>"
ONE = f"{AT}/closures/<slug:closure>"

urlpatterns = [
    path(AT, frame.AircraftView.as_view()),
    path(f"{AT}/bays", frame.BaysView.as_view()),
    path(f"{AT}/bays/<slug:bay>", frame.BayView.as_view()),
    path(f"{AT}/bays/<slug:bay>/removal", frame.BayRemovalView.as_view()),
    path(f"{AT}/closures", frame.ClosuresView.as_view()),
    path(f"{ONE}/edit", frame.ClosureEditView.as_view()),
    path(f"{ONE}/removal", frame.ClosureRemovalView.as_view()),
    path(f"{AT}/openings", frame.OpeningsView.as_view()),
    path(f"{AT}/openings/<slug:opening>", frame.OpeningView.as_view()),
    path(f"{AT}/openings/<slug:opening>/removal", frame.OpeningRemovalView.as_view()),
    path(f"{AT}/lane", api.LaneView.as_view()),
    path(ONE, api.ClosureView.as_view()),
    path(f"{ONE}/tools", api.ToolsView.as_view()),
    path(f"{ONE}/override", api.OverrideView.as_view()),
    path(f"{ONE}/close", events.CloseView.as_view()),
    path(f"{ONE}/open", events.OpenView.as_view()),
    path(f"{AT}/bays/<slug:bay>/contents", api.BayContentsView.as_view()),
    path(f"{AT}/bays/<slug:bay>/none-here", api.NoneHereView.as_view()),
]
