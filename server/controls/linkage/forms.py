"""What the API takes of linkages."""

from __future__ import annotations

from rest_framework import serializers

from server.config.forms import Form
from server.config.text import Text, text
from server.controls.linkage.checks import KINDS


class LinkageIn(Form):
    """A whole mechanism file; version 0 for the first."""

    version = serializers.IntegerField()
    document = serializers.JSONField()


class WhatIfIn(Form):
    """A mechanism file to be solved, with built lengths and stops; nothing is kept.

    `points`: pasted rows that are put into the file first.
    """

    document = serializers.JSONField(required=False, allow_null=True, default=None)
    points = Text(required=False, allow_blank=True, default="", max_length=20_000)
    lengths_mm = serializers.DictField(child=serializers.FloatField(), required=False, default=dict)
    stops = serializers.DictField(child=serializers.FloatField(), required=False, default=dict)


class AskAdvice(Form):
    """Which output, and how far the built aircraft may be from the drawing.

    `document`: a file that is tried, instead of the kept one.
    """

    document = serializers.JSONField(required=False, allow_null=True, default=None)

    output = text(60)
    rod_tol = text(20)
    stop_tol = text(20)


class AdjustmentIn(Form):
    """Half-turns that were made, by rod or stop: + longer, + q."""

    version = serializers.IntegerField()
    changes = serializers.DictField(child=serializers.IntegerField())
    note = text(200)


class VariantIn(Form):
    """A what-if to be kept beside the one that holds."""

    name = Text(max_length=60)
    note = text(200)
    document = serializers.JSONField()


class PlayIn(Form):
    """Clearance at each rod, both ends together, as typed."""

    output = Text(max_length=60)
    clearances = serializers.DictField(child=serializers.CharField(max_length=20, allow_blank=True))
    limit = text(20)


class PartCheckIn(Form):
    """A check of a part: what was typed, by field."""

    kind = serializers.ChoiceField(choices=KINDS)
    subject = Text(max_length=60)
    typed = serializers.DictField(child=serializers.CharField(max_length=400, allow_blank=True))
