"""What the API takes of clearances: as typed."""

from __future__ import annotations

from rest_framework import serializers

from core.clearance.rows import DOINGS, ROWS
from server.config.forms import Form
from server.config.text import Text, text
from server.worksheets.rows import RowIn, rows_field

KINDS = [(k, k) for k in ROWS]


class ClearanceIn(RowIn):
    """A row as typed, by the fields of its kind."""

    kind = serializers.ChoiceField(choices=KINDS)


class ClearanceRowsIn(Form):
    """Several rows of one kind at once, as pasted, with the document of their limits."""

    kind = serializers.ChoiceField(choices=KINDS)
    rows = rows_field()
    source = serializers.IntegerField(  # type: ignore[assignment]
        required=False, allow_null=True, default=None
    )
    page = text(30)


class PairIn(Form):
    """Something done to a pair: accepted (mitigation, reason) or measured (gap, u, where)."""

    doing = serializers.ChoiceField(choices=list(DOINGS.items()))
    a = Text(max_length=120)
    b = Text(max_length=120)
    mitigation = text(120)
    reason = text(200)
    gap = text(30)
    u = text(30)
    at = text(120)
    note = text(200)


class MoveIn(Form):
    """A line elsewhere, not kept: its corners, one after the other."""

    thing = Text(max_length=120)
    corners = Text(max_length=4000)
