"""Closing and opening: each is an event, with the gate and the tool count as they stood."""

from __future__ import annotations

from django.db import models
from django.db.models import Q

from server.accounts.models import Person
from server.aircraft.models import Closure, Fact


class ClosureEvent(models.Model):
    """A closure was closed or opened. Never changed."""

    closure = models.ForeignKey(Closure, on_delete=models.PROTECT, related_name="events")
    doing = models.CharField(max_length=6, choices=[("closed", "closed"), ("opened", "opened")])
    purpose = models.CharField(max_length=9, blank=True)
    reason = models.CharField(max_length=300, blank=True)
    gate = models.JSONField(default=dict)
    counted = models.JSONField(default=list)
    by = models.ForeignKey(Person, on_delete=models.PROTECT)
    at = models.DateTimeField()

    class Meta:
        ordering = ["id"]


class ToolCount(Fact):
    """A named tool or loose object: how many went in, how many came out, for one closing.

    `turn` is the number of times the closure had been opened when it was counted.
    """

    closure = models.ForeignKey(Closure, on_delete=models.CASCADE, related_name="tools")
    turn = models.PositiveIntegerField()
    name = models.CharField(max_length=60)
    went_in = models.PositiveSmallIntegerField()
    came_out = models.PositiveSmallIntegerField()

    class Meta:
        ordering = ["id"]
        constraints = [
            models.UniqueConstraint(fields=["closure", "turn", "name"], name="tool_once"),
            models.CheckConstraint(
                condition=Q(came_out__lte=models.F("went_in")), name="no_more_out_than_in"
            ),
        ]
