"""Using an invitation, with an account or for a new one; and another password."""

from __future__ import annotations

import re
from typing import Any, TypedDict

from django.contrib.auth import login, update_session_auth_hash
from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.db import transaction
from django.utils.decorators import method_decorator
from django.utils.text import slugify
from django.views.decorators.csrf import csrf_protect
from drf_spectacular.utils import extend_schema
from rest_framework.exceptions import NotFound
from rest_framework.permissions import AllowAny, IsAuthenticated
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.throttling import AnonRateThrottle
from rest_framework.views import APIView

from core.basis.refused import Refused
from server.accounts.api import Session, session
from server.accounts.models import Person, User
from server.accounts.passwords import confirm
from server.aircraft.slugs import anywhere
from server.config.forms import checked
from server.config.shapes import answer
from server.journal.writing import note
from server.people import forms
from server.people.inviting import accept, found
from server.people.models import Invitation

USED_UP = "This link was used, withdrawn, or has run out. Ask for another."
NAME = re.compile(r"[a-z][a-z0-9._-]{2,29}")


class Offered(TypedDict):
    """What an invitation offers, and by whom."""

    aircraft: str
    role: str
    second_inspector: bool
    made_by: str
    expires_at: str


class Joined(TypedDict):
    """Where it led: the aircraft's address, empty for an account alone; and the session."""

    aircraft: str
    session: Session


class FewTries(AnonRateThrottle):
    """Links are long; whoever tries many is guessing."""

    rate = "60/hour"


@method_decorator(csrf_protect, name="dispatch")
class JoinView(APIView):
    """A link that works once."""

    permission_classes = [AllowAny]
    throttle_classes = [FewTries]
    stateless = True

    @extend_schema(responses=answer(Offered))
    def get(self, request: Request, token: str) -> Response:
        """What it offers."""
        row = _usable(token)
        return Response(
            Offered(
                aircraft=row.aircraft.name if row.aircraft else "",
                role=row.role,
                second_inspector=row.second_inspector,
                made_by=row.made_by.name if row.made_by else "",
                expires_at=row.expires_at.isoformat(),
            )
        )

    @extend_schema(request=forms.JoinIn, responses=answer(Joined, 201))
    def post(self, request: Request, token: str) -> Response:
        """Use it: as who is signed in, or with a new account."""
        given = checked(forms.JoinIn, request)
        with transaction.atomic():
            row = _usable(token, lock=True)
            person = _person(request, given)
            accept(row, person)
            if row.aircraft is not None:
                said = f"{person.name} joined as {row.role}"
                note(row.aircraft, person, "people", said, (), "people")
        slug = row.aircraft.slug if row.aircraft else ""
        return Response(Joined(aircraft=slug, session=session(request)), status=201)


def _usable(token: str, lock: bool = False) -> Invitation:
    row = found(token, lock)
    if row is None:
        raise NotFound(USED_UP)
    return row


def _person(request: Request, given: dict[str, Any]) -> Person:
    """Who is signed in, or a new person with an account, signed in at once."""
    if request.user.is_authenticated:
        person: Person | None = getattr(request.user, "person", None)
        if person is None:
            raise Refused("link", "this account belongs to no person: sign out and make one")
        return person
    name = " ".join(given["name"].split())
    username = given["username"].strip().lower()
    if len(name) < 2:
        raise Refused("name", "say your name: it stands under what you measure and sign")
    if not NAME.fullmatch(username):
        raise Refused("username", "must be 3 to 30 letters, digits, dots or dashes")
    if User.objects.filter(username__iexact=username).exists():
        raise Refused("username", "is another's already")
    user = User(username=username)
    good_password(given["password"], user, "password")
    user.person = Person.objects.create(
        slug=anywhere(Person, slugify(name)[:40] or "person"), name=name
    )
    user.set_password(given["password"])
    user.save()
    login(request._request, user, backend="django.contrib.auth.backends.ModelBackend")
    request.user = user
    return user.person


def good_password(password: str, user: User, field: str) -> None:
    """Refuses one that is short, common, a number, or like the name."""
    try:
        validate_password(password, user)
    except ValidationError as bad:
        raise Refused(field, " ".join(bad.messages)) from None


@method_decorator(csrf_protect, name="dispatch")
class PasswordView(APIView):
    """One's own password."""

    permission_classes = [IsAuthenticated]
    # No answer to be sent again: the old password would be kept with it.
    stateless = True

    @extend_schema(request=forms.PasswordIn, responses=answer(Session))
    def post(self, request: Request) -> Response:
        """Another one; every other session of this account ends."""
        given = checked(forms.PasswordIn, request)
        confirm(request, given["old"])
        user = request.user
        assert isinstance(user, User)
        good_password(given["new"], user, "new")
        user.set_password(given["new"])
        user.save()
        update_session_auth_hash(request._request, user)
        return Response(session(request))
