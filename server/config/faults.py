"""When the house itself is in trouble: a plain answer with the reason, and nothing half done."""

from __future__ import annotations

import errno
import logging
import sys
from collections.abc import Callable

from django.db import InterfaceError, OperationalError
from django.http import HttpRequest, HttpResponse, JsonResponse

from server.config.parsing import unsound

AWAY = "The database does not answer. What you typed is kept here; try again in a moment."
BROKEN = "Something broke in the program. What you typed is kept here; the fault is noted."
FULL = "The server's disk is full: nothing was kept. Whoever runs the server must free some space."
# What the database says of a full disk (class 53 of PostgreSQL's error codes: disk_full).
DISK_FULL = "53100"
log = logging.getLogger("ashlane")


class Plainly:
    """Middleware around all others: an address that is no text is refused like any other."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Refuse, or go on."""
        asked = [request.path_info, *(v for k, vs in request.GET.lists() for v in (k, *vs))]
        for text in asked:
            if why := unsound(text):
                return said(422, f"address: {why}", field="address", reason=why)
        return self.get_response(request)


def failed(request: HttpRequest) -> HttpResponse:
    """Django's last word on an error, wherever it was raised."""
    found = trouble(sys.exc_info()[1])
    return said(500, BROKEN) if found is None else found


def trouble(error: BaseException | None) -> HttpResponse | None:
    """The answer for what the house could not help; None: it is a fault of the program."""
    chain: list[BaseException] = []
    while error is not None:
        chain.append(error)
        error = error.__cause__ or error.__context__
    # The framework wraps the database's own error, which alone says that a disk is full.
    for one in chain:
        no_room = isinstance(one, OSError) and one.errno in (errno.ENOSPC, errno.EDQUOT)
        if no_room or getattr(one, "sqlstate", None) == DISK_FULL:
            return _told(507, FULL, one)
    for one in chain:
        if isinstance(one, (OperationalError, InterfaceError)):
            return _told(503, AWAY, one)
    return None


def _told(status: int, title: str, error: BaseException) -> HttpResponse:
    log.error("%s: %s", title, error)
    response = said(status, title)
    if status == 503:
        response["Retry-After"] = "5"
    return response


def said(status: int, title: str, **more: str) -> JsonResponse:
    """A problem in the form of all others."""
    body: dict[str, object] = {"type": "about:blank", "title": title, "status": status, **more}
    if more:
        body["errors"] = [more]
    return JsonResponse(body, status=status, content_type="application/problem+json")
