"""Weight and balance as rows, and what was done to weighings: prepared, scales read."""

from __future__ import annotations

from django.db import models
from simple_history.models import HistoricalRecords

from core.weight.rows import ROWS, STEP_WORDS
from server.kit.records import UNDONE, Event
from server.worksheets.rows import TypedRow


class WeightRow(TypedRow):
    """One row, as typed by the fields of its kind."""

    ROWS = ROWS
    KINDS = [(k, k) for k in ROWS]
    kind = models.CharField(max_length=10, choices=KINDS)
    history = HistoricalRecords()

    class Meta:
        ordering = ["id"]
        constraints = [models.UniqueConstraint(fields=["aircraft", "slug"], name="weight_row_once")]


class WeightEvent(Event):
    """Something prepared for a weighing, or a scale read; `undoes` takes one back."""

    DOINGS = [*STEP_WORDS.items(), (UNDONE, UNDONE)]
    row = models.ForeignKey(WeightRow, on_delete=models.PROTECT, related_name="events")
    doing = models.CharField(max_length=10, choices=DOINGS)
    typed = models.JSONField(default=dict)
    inputs = models.JSONField(default=dict)
    result = models.JSONField(default=dict)

    class Meta(Event.Meta):
        verbose_name = "thing done at a weighing"
        verbose_name_plural = "things done at a weighing"
