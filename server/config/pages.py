"""The web app's front page, for every address that is not the API's."""

from __future__ import annotations

from django.conf import settings
from django.db import connection
from django.http import FileResponse, HttpRequest, HttpResponse, JsonResponse
from django.http.response import HttpResponseBase


def front(request: HttpRequest) -> HttpResponseBase:
    """index.html as built; says what to do when it is not built."""
    page = settings.WEB_DIST / "index.html"
    if not page.is_file():
        return HttpResponse("The web app is not built. Run bin/start.", status=503)
    response = FileResponse(page.open("rb"), content_type="text/html; charset=utf-8")
    response["Cache-Control"] = "no-cache"
    return response


def no_such(request: HttpRequest) -> JsonResponse:
    """An API address that does not exist."""
    body = {"type": "about:blank", "title": "There is nothing here.", "status": 404}
    return JsonResponse(body, status=404, content_type="application/problem+json")


def ready(request: HttpRequest) -> JsonResponse:
    """Whether the server and its database answer (503 with the reason); bin/start waits for it."""
    with connection.cursor() as cursor:
        cursor.execute("SELECT 1")
    return JsonResponse({"ready": True})
