"""Addresses of cables, their measurements and calibration cards."""

from django.urls import path

from server.cables import api, cards_api, measuring_api

AT = "aircraft/<slug:slug>"
ONE = f"{AT}/controls/<slug:control>/cables"

urlpatterns = [
    path(f"{AT}/cables", api.LoopsView.as_view()),
    path(ONE, api.CablesView.as_view()),
    path(f"{ONE}/assess", api.WhatIfView.as_view()),
    path(f"{ONE}/today", api.TodayView.as_view()),
    path(f"{ONE}/try", measuring_api.TryView.as_view()),
    path(f"{ONE}/hear", measuring_api.HearView.as_view()),
    path(f"{ONE}/readings", measuring_api.ReadingsView.as_view()),
    path(f"{ONE}/readings/<int:reading>/withdraw", measuring_api.WithdrawView.as_view()),
    path(f"{ONE}/readings/<int:reading>/recording.wav", measuring_api.RecordingView.as_view()),
    path(f"{ONE}/events", api.EventsView.as_view()),
    path(f"{ONE}/events/<int:event>/undo", api.UndoView.as_view()),
    path(f"{ONE}/made-up.wav", measuring_api.MadeUpView.as_view()),
    path(f"{ONE}/file.json", api.FileView.as_view()),
    path(f"{ONE}/removal", api.CablesRemovalView.as_view()),
    path(f"{ONE}/supports.csv", api.RowsView.as_view()),
    path(f"{AT}/cards", cards_api.CardsView.as_view()),
    path(f"{AT}/instruments/<int:instrument>/card", cards_api.CardView.as_view()),
    path("cable-reference", cards_api.ReferenceView.as_view()),
]
