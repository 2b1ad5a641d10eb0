"""Addresses of loose ends, findings, notes and photos."""

from django.urls import path

from server.record import api, photos

AT = "aircraft/<slug:slug>"

urlpatterns = [
    path(f"{AT}/loose-ends", api.LooseEndsView.as_view()),
    path(f"{AT}/loose-ends/<int:end>/end", api.EndView.as_view()),
    path(f"{AT}/findings", api.FindingsView.as_view()),
    path(f"{AT}/findings/<int:finding>", api.FindingView.as_view()),
    path(f"{AT}/notes", api.NotesView.as_view()),
    path(f"{AT}/notes/<int:note_id>/withdraw", api.WithdrawNoteView.as_view()),
    path(f"{AT}/photos", photos.PhotosView.as_view()),
    path(f"{AT}/photos/<int:photo>", photos.PhotoView.as_view()),
    path(
        f"{AT}/photos/<int:photo>/<str:which>",
        photos.PhotoFileView.as_view(),
    ),
]
