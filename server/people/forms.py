"""What is sent of people."""

from __future__ import annotations

from rest_framework import serializers

from server.aircraft.models import Member
from server.config.forms import Form
from server.config.text import Text, text

ROLES = [r for r, _ in Member.ROLES]


class InvitationIn(Form):
    """The role that is offered."""

    role = serializers.ChoiceField(choices=ROLES)
    second_inspector = serializers.BooleanField(required=False, default=False)


class RoleIn(Form):
    """Another role; `was` is the one that it was seen as."""

    was = serializers.ChoiceField(choices=ROLES)
    role = serializers.ChoiceField(choices=ROLES)
    second_inspector = serializers.BooleanField()


class EndIn(Form):
    """Why a role ends."""

    reason = Text(max_length=200)


class JoinIn(Form):
    """Who uses a link: signed in already, all is left empty; else a new account."""

    name = text(80)
    username = text(30)
    password = serializers.CharField(
        max_length=128, trim_whitespace=False, required=False, allow_blank=True, default=""
    )


class PasswordIn(Form):
    """The password as it is, and as it shall be."""

    old = serializers.CharField(max_length=128, trim_whitespace=False)
    new = serializers.CharField(max_length=128, trim_whitespace=False)
