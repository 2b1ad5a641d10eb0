"""Signing in and out, and who is signed in."""

from __future__ import annotations

import json
from typing import TypedDict

from django.conf import settings
from django.contrib.auth import authenticate, login, logout
from django.middleware.csrf import get_token
from django.utils.decorators import method_decorator
from django.views.decorators.csrf import csrf_protect
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.permissions import AllowAny
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from core.basis.refused import Refused
from server.accounts.passwords import known_to_all
from server.config.bounds import SignIns
from server.config.forms import Form
from server.config.shapes import answer


class DemoPerson(TypedDict):
    """A person of the demo who can be signed in by one click."""

    username: str
    password: str
    name: str
    situation: str


class Session(TypedDict):
    """Who is signed in, the security token for writes, and the demo's people if any."""

    signed_in: bool
    username: str
    person: str
    name: str
    csrf: str
    demo_people: list[DemoPerson]


class SignIn(Form):
    """A name and a password."""

    username = serializers.CharField(max_length=150)
    password = serializers.CharField(max_length=128, trim_whitespace=False)


def demo_people() -> list[DemoPerson]:
    """The people that demo mode offers; none outside it."""
    if not settings.DEMO:
        return []
    people = json.loads((settings.ROOT / "demo" / "people.json").read_text(encoding="utf-8"))
    return [
        DemoPerson(
            username=p["slug"], password=p["password"], name=p["name"], situation=p["situation"]
        )
        for p in people
    ]


def session(request: Request) -> Session:
    """What the browser needs to know of the session."""
    user = request.user
    person = getattr(user, "person", None)
    return Session(
        signed_in=user.is_authenticated,
        username=user.get_username() if user.is_authenticated else "",
        person=person.slug if person else "",
        name=person.name if person else "",
        csrf=get_token(request),
        demo_people=[] if user.is_authenticated and not settings.DEMO else demo_people(),
    )


@method_decorator(csrf_protect, name="dispatch")
class SessionView(APIView):
    """The session of this browser."""

    permission_classes = [AllowAny]
    throttle_classes = [SignIns]
    stateless = True

    @extend_schema(responses=answer(Session))
    def get(self, request: Request) -> Response:
        """Who is signed in."""
        return Response(session(request))

    @extend_schema(request=SignIn, responses=answer(Session))
    def post(self, request: Request) -> Response:
        """Sign in."""
        asked = SignIn(data=request.data)
        asked.is_valid(raise_exception=True)
        given = asked.validated_data
        user = authenticate(request._request, **given)
        if settings.PRODUCTION and known_to_all(given["username"], given["password"]):
            user = None
        if user is None:
            raise Refused("password", "name and password do not match, or too many tries")
        login(request._request, user)
        request.user = user
        return Response(session(request))

    @extend_schema(responses=answer(Session))
    def delete(self, request: Request) -> Response:
        """Sign out."""
        logout(request._request)
        request.user = request._request.user
        return Response(session(request))
