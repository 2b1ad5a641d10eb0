"""A sign-in ends when it was not used for a while; each use within it begins the while anew."""

from __future__ import annotations

import time
from collections.abc import Callable

from django.http import HttpRequest, HttpResponse

# Noted so seldom that reading pages hardly ever writes.
EVERY_S = 600
USED = "used"


class WhileUsed:
    """Middleware: a session that is in use lives on; Django ends it at its age without use."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Note the use, where the last one noted is a while ago."""
        if not _used(request):
            return self.get_response(request)
        now = int(time.time())
        if request.user.is_authenticated and now - request.session.get(USED, 0) >= EVERY_S:
            request.session[USED] = now
        return self.get_response(request)


def _used(request: HttpRequest) -> bool:
    """Whether somebody is at work: not the page itself, nor what an open page asks by itself."""
    return request.path.startswith("/api/") and not request.path.endswith("/pulse")
