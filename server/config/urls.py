"""All addresses: the API by capability, then the web app."""

from django.urls import include, path, re_path

from server.config import pages

handler500 = "server.config.faults.failed"
urlpatterns = [
    path("api/", include("server.accounts.urls")),
    path("api/", include("server.aircraft.urls")),
    path("api/", include("server.people.urls")),
    path("api/", include("server.controls.urls")),
    path("api/", include("server.cables.urls")),
    path("api/", include("server.instruments.urls")),
    path("api/", include("server.closing.urls")),
    path("api/", include("server.hardware.urls")),
    path("api/", include("server.lines.urls")),
    path("api/", include("server.wires.urls")),
    path("api/", include("server.weight.urls")),
    path("api/", include("server.clearance.urls")),
    path("api/", include("server.worksheets.urls")),
    path("api/", include("server.record.urls")),
    path("api/", include("server.sources.urls")),
    path("api/", include("server.find.urls")),
    path("api/", include("server.journal.urls")),
    path("api/", include("server.entry.urls")),
    path("api/", include("server.signoff.urls")),
    path("api/", include("server.papers.urls")),
    path("api/", include("server.rulebook.urls")),
    path("api/ready", pages.ready),
    re_path(r"^api/.*$", pages.no_such),
    re_path(r"^(?!static/|assets/).*$", pages.front),
]
