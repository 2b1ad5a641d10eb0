"""What the API takes of weight and balance: as typed."""

from __future__ import annotations

from rest_framework import serializers

from core.weight.rows import ROWS, STEP_WORDS
from server.config.forms import Form
from server.config.text import text
from server.worksheets.rows import RowIn, rows_field

KINDS = [(k, k) for k in ROWS]


class WeightIn(RowIn):
    """A row as typed, by the fields of its kind."""

    kind = serializers.ChoiceField(choices=KINDS)


class WeightRowsIn(Form):
    """Several rows of one kind at once, as pasted, with the document of their limits."""

    kind = serializers.ChoiceField(choices=KINDS)
    rows = rows_field()
    source = serializers.IntegerField(  # type: ignore[assignment]
        required=False, allow_null=True, default=None
    )
    page = text(30)


class WeighIn(Form):
    """Something prepared (item), or a scale read (wheel, what it shows, how well it is known)."""

    doing = serializers.ChoiceField(choices=list(STEP_WORDS.items()))
    item = text(20)
    wheel = text(20)
    shown = text(30)
    u = text(30)
    note = text(200)


class ScalesIn(Form):
    """All scales read live: for each wheel times in s and masses in kg."""

    scales = serializers.JSONField()


class TrialIn(Form):
    """A row that is not kept."""

    kind = serializers.ChoiceField(choices=KINDS)
    row = text(60)
    typed = serializers.JSONField()
