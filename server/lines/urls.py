"""Addresses of lines."""

from django.urls import path

from server.lines import api

AT = "aircraft/<slug:slug>"

urlpatterns = [
    path(f"{AT}/lines", api.LinesView.as_view()),
    path(f"{AT}/lines/<slug:line>", api.LineView.as_view()),
    path(f"{AT}/leak-trial", api.LeakTryView.as_view()),
    path(f"{AT}/lines/<slug:line>/leak-tests", api.LeakTestsView.as_view()),
    path(f"{AT}/lines/<slug:line>/opened", api.LineOpenedView.as_view()),
    path(f"{AT}/lines/<slug:line>/events/<int:event>/undo", api.LineUndoView.as_view()),
    path(f"{AT}/lines/<slug:line>/removal", api.LineRemovalView.as_view()),
    path(f"{AT}/lines/<slug:line>/card", api.LineCardView.as_view()),
]
