"""One place that turns refusals and errors into problem responses (RFC 9457)."""

from __future__ import annotations

from typing import Any, cast

from django.core.exceptions import ValidationError as ModelError
from django.http import HttpRequest, JsonResponse
from rest_framework import exceptions, status
from rest_framework.response import Response
from rest_framework.views import exception_handler, set_rollback

from core.basis.refused import Refused
from server.accounts import security
from server.config.faults import trouble

MEDIA = "application/problem+json"


class Conflict(exceptions.APIException):
    """A write on an old version: both sides are shown, nothing is written."""

    status_code = status.HTTP_409_CONFLICT
    default_detail = "This was changed meanwhile."

    def __init__(self, theirs: Any, yours: Any, detail: str | None = None) -> None:
        super().__init__(detail)
        self.theirs, self.yours = theirs, yours


def problem(error: Exception, context: dict[str, Any]) -> Response | None:
    """DRF's exception handler."""
    if isinstance(error, Refused):
        return _refused([{"field": error.field, "reason": error.reason}])
    if isinstance(error, ModelError):
        return _refused([{"field": "value", "reason": m} for m in error.messages])
    if isinstance(error, exceptions.ValidationError):
        return _refused(list(_flat(error.detail, "")))
    if (told := trouble(error)) is not None:
        set_rollback()
        return cast(Response, told)
    response = exception_handler(error, context)
    if response is None:
        return None
    title = str(getattr(error, "detail", error))
    body = {"type": "about:blank", "title": title, "status": response.status_code}
    if isinstance(error, Conflict):
        body |= {"theirs": error.theirs, "yours": error.yours}
    if isinstance(error, exceptions.PermissionDenied):
        request = context.get("request")
        told = getattr(request, "_request", None)
        security.told("denied", told, path=getattr(told, "path", ""))
    response.data = body
    response.content_type = MEDIA
    return response


def csrf_failure(request: HttpRequest, reason: str = "") -> JsonResponse:
    """The page's security token is missing or old."""
    title = "The security token is missing or old: reload the page. What you typed is kept."
    return JsonResponse({"type": "about:blank", "title": title, "status": 403}, status=403)


def _refused(errors: list[dict[str, str]]) -> Response:
    first = errors[0]
    body = {
        "type": "about:blank",
        "title": f"{first['field']}: {first['reason']}",
        "status": 422,
        "field": first["field"],
        "reason": first["reason"],
        "errors": errors,
    }
    return Response(body, status=422, content_type=MEDIA)


def _flat(detail: Any, path: str) -> Any:
    if isinstance(detail, dict):
        for key, value in detail.items():
            yield from _flat(value, f"{path}.{key}" if path else str(key))
    elif isinstance(detail, list):
        for item in detail:
            yield from _flat(item, path)
    else:
        yield {"field": path or "value", "reason": str(detail)}
