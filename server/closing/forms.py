"""What the API takes of closures."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from server.config.text import Text


class ToolIn(serializers.Serializer[Any]):
    """A tool counted in or out."""

    version = serializers.IntegerField(required=False, default=0)
    name = Text(max_length=60)
    went_in = serializers.IntegerField(min_value=0, max_value=999)
    came_out = serializers.IntegerField(min_value=0, max_value=999)


class OverrideIn(serializers.Serializer[Any]):
    """Which blockers, why, and the password again."""

    blockers = serializers.ListField(
        child=serializers.CharField(max_length=64), allow_empty=False, max_length=600
    )
    reason = Text(max_length=500)
    password = serializers.CharField(max_length=128, trim_whitespace=False)


class CloseIn(serializers.Serializer[Any]):
    """Closing: for good, or for dust and the night."""

    purpose = serializers.ChoiceField(choices=["final", "temporary"])


class OpenIn(serializers.Serializer[Any]):
    """Opening again, with the reason."""

    reason = Text(max_length=300)


class NoneIn(serializers.Serializer[Any]):
    """There is nothing of these kinds in a bay; empty: of all that are open."""

    capabilities = serializers.ListField(
        child=serializers.CharField(max_length=20), required=False, default=list
    )
