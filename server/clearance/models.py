"""What is entered for clearances as rows, and what was done to pairs: accepted, measured."""

from __future__ import annotations

from django.db import models
from simple_history.models import HistoricalRecords

from core.clearance.rows import DOINGS, ROWS
from server.kit.records import UNDONE, Event
from server.worksheets.rows import TypedRow


class ClearanceRow(TypedRow):
    """One row, as typed by the fields of its kind."""

    ROWS = ROWS
    KINDS = [(k, k) for k in ROWS]
    kind = models.CharField(max_length=10, choices=KINDS)
    history = HistoricalRecords()

    class Meta:
        ordering = ["id"]
        constraints = [
            models.UniqueConstraint(fields=["aircraft", "slug"], name="clearance_row_once")
        ]


class PairEvent(Event):
    """A pair accepted knowingly or measured by hand; `undoes` takes one back. pair: its key."""

    ALL_DOINGS = [*DOINGS.items(), (UNDONE, UNDONE)]
    pair = models.CharField(max_length=100)
    doing = models.CharField(max_length=10, choices=ALL_DOINGS)
    typed = models.JSONField(default=dict)
    inputs = models.JSONField(default=dict)

    class Meta(Event.Meta):
        verbose_name = "thing done to a clearance"
        verbose_name_plural = "things done to clearances"
        indexes = [models.Index(fields=["aircraft", "pair"])]
