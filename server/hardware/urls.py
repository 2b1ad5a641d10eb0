"""Addresses of joints and hardware."""

from django.urls import path

from server.hardware import api, stock

AT = "aircraft/<slug:slug>"

urlpatterns = [
    path(f"{AT}/joints", api.JointsView.as_view()),
    path(f"{AT}/joints/<slug:joint>", api.JointView.as_view()),
    path(f"{AT}/joints/<slug:joint>/events", api.EventsView.as_view()),
    path(f"{AT}/joints/<slug:joint>/undo", api.UndoView.as_view()),
    path(f"{AT}/joints/<slug:joint>/removal", api.JointRemovalView.as_view()),
    path(f"{AT}/stock", stock.StockView.as_view()),
    path(f"{AT}/stock/<int:item>", stock.StockItemView.as_view()),
    path(f"{AT}/stock/<int:item>/removal", stock.StockRemovalView.as_view()),
    path(f"{AT}/compounds", stock.CompoundsView.as_view()),
    path(f"{AT}/compounds/<int:compound>", stock.CompoundView.as_view()),
    path(f"{AT}/compounds/<int:compound>/removal", stock.CompoundRemovalView.as_view()),
    path(f"{AT}/bolt-choice", api.ChooseView.as_view()),
    path(f"{AT}/fit-check", api.FitCheckView.as_view()),
    path(f"{AT}/wrench-setting", api.WrenchView.as_view()),
]
