"""The password asked again, before what cannot be taken back.

A wrong one is counted like one at sign-in: the count must outlive the refused write, which is
rolled back, so the middleware around every write counts it afterwards.
"""

from __future__ import annotations

import json

from django.conf import settings
from django.contrib.auth import authenticate
from django.contrib.auth.signals import user_login_failed
from django.http import HttpRequest, JsonResponse
from rest_framework.request import Request

from core.basis.refused import Refused

MARK = "_wrong_password"


def known_to_all(username: str, password: str) -> bool:
    """Whether this is one of the demo's passwords, which stand on its sign-in page."""
    people = json.loads((settings.ROOT / "demo" / "people.json").read_text(encoding="utf-8"))
    return any((p["slug"], p["password"]) == (username.lower(), password) for p in people)


def confirm(request: Request, password: str) -> None:
    """Refuses a password that is not that of who is signed in, or after too many tries."""
    name = request.user.get_username()
    user = authenticate(request._request, username=name, password=password)
    if user is None or user.pk != request.user.pk:
        setattr(request._request, MARK, name)
        raise Refused("password", "is not yours, or too many tries")


def count_wrong(request: HttpRequest) -> None:
    """Count a wrong password whose write was rolled back, outside of its transaction."""
    name = getattr(request, MARK, None)
    if name is not None:
        credentials = {"username": name}
        user_login_failed.send(sender=__name__, request=request, credentials=credentials)


def locked_out(request: HttpRequest, *_: object) -> JsonResponse:
    """What is said after too many tries, at sign-in and wherever the password is asked again."""
    reason = "too many wrong tries: wait a quarter of an hour, then try again"
    body: dict[str, object] = {"type": "about:blank", "title": f"password: {reason}", "status": 429}
    body |= {"field": "password", "reason": reason}
    body |= {"errors": [{"field": "password", "reason": reason}]}
    return JsonResponse(body, status=429, content_type="application/problem+json")
