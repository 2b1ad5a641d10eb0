"""The address that somebody asks from: by it limits are kept, so nobody may make one up."""

from __future__ import annotations

from django.conf import settings
from django.http import HttpRequest


def address(request: HttpRequest) -> str:
    """The asker's, as the outermost trusted proxy saw it; without proxies, the connection's."""
    seen = str(request.META.get("REMOTE_ADDR", ""))
    if not settings.PROXIES:
        return seen
    told = [a.strip() for a in request.META.get("HTTP_X_FORWARDED_FOR", "").split(",") if a.strip()]
    return told[-min(settings.PROXIES, len(told))] if told else seen
