"""The harness as rows: circuits, wires, connectors, bundles, buses; and what was done to them."""

from __future__ import annotations

from django.db import models
from simple_history.models import HistoricalRecords

from core.wiring.harness import ROWS, STEP_WORDS
from server.kit.records import UNDONE, Event
from server.worksheets.rows import TypedRow


class HarnessRow(TypedRow):
    """One row, as typed by the fields of its kind. source: the document of its limits."""

    ROWS = ROWS
    KINDS = [(k, k) for k in ROWS]
    kind = models.CharField(max_length=10, choices=KINDS)
    history = HistoricalRecords()

    class Meta:
        ordering = ["id"]
        constraints = [models.UniqueConstraint(fields=["aircraft", "slug"], name="harness_once")]


class WireEvent(Event):
    """A step that was done to a wire, a circuit or a bus, with what was read; of a continuity test
    with what its rule said. `undoes` takes one back."""

    DOINGS = [*STEP_WORDS.items(), (UNDONE, UNDONE)]
    row = models.ForeignKey(HarnessRow, on_delete=models.PROTECT, related_name="events")
    doing = models.CharField(max_length=10, choices=DOINGS)
    typed = models.JSONField(default=dict)
    rule = models.CharField(max_length=60, blank=True)
    inputs = models.JSONField(default=dict)
    result = models.JSONField(default=dict)

    class Meta(Event.Meta):
        verbose_name = "thing done to it"
        verbose_name_plural = "things done to it"
