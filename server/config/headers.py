"""What the browser is told with every answer of the API."""

from __future__ import annotations

from collections.abc import Callable

from django.http import HttpRequest, HttpResponse


class NotKept:
    """Middleware: answers of the API, prints too, are kept by nobody on the way."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Say so, unless the view says something else (pictures never change)."""
        response = self.get_response(request)
        if request.path.startswith("/api/") and not response.has_header("Cache-Control"):
            response["Cache-Control"] = "no-store"
        return response
