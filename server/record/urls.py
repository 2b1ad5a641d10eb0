"""Addresses of loose ends, findings, notes and photos."""

from django.urls import path

from server.record import api, findings, notes, photos

AT = "aircraft/<slug:slug>"

urlpatterns = [
    path(f"{AT}/loose-ends", api.LooseEndsView.as_view()),
    path(f"{AT}/loose-ends/<int:end>/end", api.EndView.as_view()),
    path(f"{AT}/findings", findings.FindingsView.as_view()),
    path(f"{AT}/findings/<int:finding>", findings.FindingView.as_view()),
    path(f"{AT}/notes", notes.NotesView.as_view()),
    path(f"{AT}/notes/<int:note_id>/withdraw", notes.WithdrawNoteView.as_view()),
    path(f"{AT}/photos", photos.PhotosView.as_view()),
    path(f"{AT}/photos/<int:photo>", photos.PhotoView.as_view()),
    path(
        f"{AT}/photos/<int:photo>/<str:which>",
        photos.PhotoFileView.as_view(),
    ),
]
