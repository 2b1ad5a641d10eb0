"""The harness as rows: circuits, wires, connectors, bundles, buses; and what was done to them."""

from __future__ import annotations

from django.db import models
from simple_history.models import HistoricalRecords

from core.wiring.harness import ROWS, STEP_WORDS
from server.aircraft.models import Fact, Source
from server.kit.records import UNDONE, Event


class HarnessRow(Fact):
    """One row, as typed by the fields of its kind. source: the document of its limits."""

    KINDS = [(k, k) for k in ROWS]
    kind = models.CharField(max_length=10, choices=KINDS)
    slug = models.SlugField(max_length=60)
    name = models.CharField(max_length=60)
    typed = models.JSONField(default=dict)
    source = models.ForeignKey(Source, on_delete=models.PROTECT, null=True, related_name="+")
    page = models.CharField(max_length=30, blank=True)
    history = HistoricalRecords()

    class Meta:
        ordering = ["id"]
        constraints = [models.UniqueConstraint(fields=["aircraft", "slug"], name="harness_once")]

    def __str__(self) -> str:
        return self.name

    @property
    def cited(self) -> str:
        """The document of its limits, in words."""
        if self.source is None:
            return ""
        return f"{self.source.cited}, page {self.page}" if self.page else self.source.cited


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
