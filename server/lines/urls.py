"""Addresses of lines."""

from django.urls import path

from server.lines import api

AT = "aircraft/<slug:slug>"

urlpatterns = [
    path(f"{AT}/lines", api.LinesView.as_view()),
    path(f"{AT}/line-trial", api.LineTryView.as_view()),
    path(f"{AT}/lines/<slug:line>", api.LineView.as_view()),
    path(f"{AT}/lines/<slug:line>/removal", api.LineRemovalView.as_view()),
    path(f"{AT}/lines/<slug:line>/card", api.LineCardView.as_view()),
]
