"""Addresses of people."""

from django.urls import path

from server.people import api, joining

AT = "aircraft/<slug:slug>/people"

urlpatterns = [
    path(AT, api.PeopleView.as_view()),
    path(f"{AT}/invitations", api.InvitationsView.as_view()),
    path(f"{AT}/invitations/<int:invitation>/withdraw", api.WithdrawView.as_view()),
    path(f"{AT}/<slug:person>", api.PersonView.as_view()),
    path(f"{AT}/<slug:person>/end", api.EndView.as_view()),
    path("join/<str:token>", joining.JoinView.as_view()),
    path("session/password", joining.PasswordView.as_view()),
]
