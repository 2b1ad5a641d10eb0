"""What the API takes of worksheets: as typed."""

from __future__ import annotations

from rest_framework import serializers

from server.config.forms import Form
from server.config.text import Text, text


class TypedField(serializers.JSONField):
    """What was typed, by the kind's fields."""


class TryIn(Form):
    """A sheet that is worked out and not kept. typed: by the kind's fields; a table is a list of
    rows."""

    kind = Text(max_length=30)
    typed = serializers.JSONField()
    source = serializers.IntegerField(  # type: ignore[assignment]
        required=False, allow_null=True, default=None
    )
    page = text(30)


class SheetIn(TryIn):
    """A sheet as typed."""

    version = serializers.IntegerField(required=False, default=0)
    name = Text(max_length=80)
    bays = serializers.ListField(
        child=serializers.SlugField(max_length=50), required=False, default=list, max_length=200
    )
    reason = text(200)
