"""What was done to a line: tested for leaks, opened. Append-only; the last is taken back."""

from __future__ import annotations

from django.db import models

from server.kit.records import Event
from server.runs.models import Run


class LineEvent(Event):
    """One thing done to a line, with what a rule said of it. `undoes` takes one back."""

    DOINGS = [(d, d) for d in ("leak test", "opened", "undone")]
    run = models.ForeignKey(Run, on_delete=models.PROTECT, related_name="events")
    doing = models.CharField(max_length=12, choices=DOINGS)
    typed = models.JSONField(default=dict)
    rule = models.CharField(max_length=60, blank=True)
    inputs = models.JSONField(default=dict)
    result = models.JSONField(default=dict)

    class Meta(Event.Meta):
        verbose_name = "thing done to it"
        verbose_name_plural = "things done to it"
