"""What the API takes of closures."""

from __future__ import annotations

from rest_framework import serializers

from server.config.forms import Form
from server.config.text import Text


class ToolIn(Form):
    """A tool counted in or out."""

    version = serializers.IntegerField(required=False, default=0)
    name = Text(max_length=60)
    went_in = serializers.IntegerField(min_value=0, max_value=999)
    came_out = serializers.IntegerField(min_value=0, max_value=999)


class OverrideIn(Form):
    """Which blockers, why, and the password again."""

    blockers = serializers.ListField(
        child=serializers.CharField(max_length=64), allow_empty=False, max_length=600
    )
    reason = Text(max_length=500)
    password = serializers.CharField(max_length=128, trim_whitespace=False)


class CloseIn(Form):
    """Closing: for good, or for dust and the night."""

    purpose = serializers.ChoiceField(choices=["final", "temporary"])


class OpenIn(Form):
    """Opening again, with the reason."""

    reason = Text(max_length=300)


class NoneIn(Form):
    """There is nothing of these kinds in a bay; empty: of all that are open."""

    capabilities = serializers.ListField(
        child=serializers.CharField(max_length=20), required=False, default=list
    )
