"""What the API takes of the harness: as typed."""

from __future__ import annotations

from rest_framework import serializers

from core.wiring.harness import ROWS, STEP_WORDS
from server.config.forms import Form
from server.config.text import text
from server.worksheets.rows import RowIn, rows_field


class HarnessIn(RowIn):
    """A row as typed, by the fields of its kind."""

    kind = serializers.ChoiceField(choices=[(k, k) for k in ROWS])


class WiresIn(Form):
    """Several wires at once, as pasted: each a name and its fields."""

    rows = rows_field()


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
