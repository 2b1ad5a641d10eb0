"""What the API takes of the harness: as typed."""

from __future__ import annotations

from rest_framework import serializers

from core.wiring.harness import ROWS, STEP_WORDS
from server.config.forms import Form
from server.config.text import Text, text

MOST_ROWS = 500


class HarnessIn(Form):
    """A row as typed, by the fields of its kind."""

    version = serializers.IntegerField(required=False, default=0)
    kind = serializers.ChoiceField(choices=[(k, k) for k in ROWS])
    name = Text(max_length=60)
    typed = serializers.JSONField()
    source = serializers.IntegerField(  # type: ignore[assignment]
        required=False, allow_null=True, default=None
    )
    page = text(30)
    reason = text(200)


class WiresIn(Form):
    """Several wires at once, as pasted: each a name and its fields."""

    rows = serializers.ListField(child=serializers.JSONField(), max_length=MOST_ROWS)


class StepIn(Form):
    """A step that was done; of a test, what the meter read. over: the tester says "more than";
    breaker: which was put in."""

    doing = serializers.ChoiceField(choices=list(STEP_WORDS.items()))
    measured = text(30)
    u = text(30)
    leads = text(30)
    contacts = text(30)
    temperature = text(30)
    breaker = text(60)
    over = serializers.BooleanField(required=False, default=False)
    note = text(200)
