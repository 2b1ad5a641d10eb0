"""A control's mechanism as rows, what was turned on it, variants, and checks of its parts.

Coordinates are aircraft axes, m, in the reference position; q in rad or m.
"""

from __future__ import annotations

from typing import Any

from django.contrib.postgres.fields import ArrayField
from django.db import models
from django.db.models import Q
from simple_history.models import HistoricalRecords

from server.accounts.models import Person
from server.aircraft.models import Fact


def _vector(null: bool = False) -> Any:
    return ArrayField(models.FloatField(), size=3, null=null)


class Mechanism(Fact):
    """The levers and rods of one control. Inputs and outputs: [name, what its file says]."""

    control = models.OneToOneField(
        "controls.Control", on_delete=models.CASCADE, related_name="mechanism"
    )
    slug = models.SlugField(max_length=60)
    inputs = models.JSONField()
    outputs = models.JSONField()
    history = HistoricalRecords()


class Body(Fact):
    """A lever, crank, surface or slide."""

    mechanism = models.ForeignKey(Mechanism, on_delete=models.CASCADE, related_name="bodies")
    slug = models.CharField(max_length=60)
    order = models.PositiveSmallIntegerField()
    kind = models.CharField(max_length=5, choices=[("turn", "turn"), ("slide", "slide")])
    pivot_m = _vector(null=True)
    axis = _vector()
    carried_by = models.CharField(max_length=60, blank=True)
    driven_by = models.JSONField()
    points_m = models.JSONField(default=dict)
    history = HistoricalRecords()

    class Meta:
        ordering = ["order"]
        constraints = [
            models.UniqueConstraint(fields=["mechanism", "slug"], name="body_once"),
            models.CheckConstraint(
                condition=Q(kind="slide") | Q(pivot_m__isnull=False), name="a_turn_has_a_pivot"
            ),
        ]


class Rod(Fact):
    """A rod between two points. `record`: its ends as typed; `half_turns`: all that was
    recorded, `recorded_at`: how many of them when the engaged thread was measured."""

    mechanism = models.ForeignKey(Mechanism, on_delete=models.CASCADE, related_name="rods")
    slug = models.CharField(max_length=60)
    order = models.PositiveSmallIntegerField()
    a = models.JSONField()
    b = models.JSONField()
    length_m = models.FloatField(null=True)
    record = models.JSONField(default=dict)
    half_turns = models.IntegerField(default=0)
    recorded_at = models.IntegerField(default=0)
    history = HistoricalRecords()

    class Meta:
        ordering = ["order"]
        constraints = [
            models.UniqueConstraint(fields=["mechanism", "slug"], name="rod_once"),
            models.CheckConstraint(
                condition=Q(length_m__isnull=True) | Q(length_m__gt=0), name="a_rod_has_length"
            ),
        ]


class Stop(Fact):
    """A stop on a body's q. `step` per half-turn if it can be turned."""

    mechanism = models.ForeignKey(Mechanism, on_delete=models.CASCADE, related_name="stops")
    slug = models.CharField(max_length=60)
    order = models.PositiveSmallIntegerField()
    body = models.CharField(max_length=60)
    side = models.CharField(max_length=3, choices=[("max", "max"), ("min", "min")])
    at = models.FloatField()
    kind = models.CharField(max_length=8)
    named_first = models.BooleanField(default=False)
    step = models.FloatField(null=True)
    least = models.IntegerField(default=0)
    most = models.IntegerField(default=0)
    half_turns = models.IntegerField(default=0)
    history = HistoricalRecords()

    class Meta:
        ordering = ["order"]
        constraints = [models.UniqueConstraint(fields=["mechanism", "slug"], name="stop_once")]


class Adjustment(models.Model):
    """Half-turns that were made, never changed; taken back by another with the opposite."""

    mechanism = models.ForeignKey(Mechanism, on_delete=models.PROTECT, related_name="adjustments")
    changes = models.JSONField()
    predicted = models.JSONField(default=list)
    affects = models.JSONField(default=list)
    note = models.CharField(max_length=200, blank=True)
    round = models.ForeignKey("controls.Round", on_delete=models.PROTECT, related_name="+")
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()

    class Meta:
        ordering = ["id"]


class Variant(Fact):
    """A what-if that was kept: a whole mechanism file beside the one that holds."""

    mechanism = models.ForeignKey(Mechanism, on_delete=models.CASCADE, related_name="variants")
    name = models.CharField(max_length=60)
    note = models.CharField(max_length=200, blank=True)
    document = models.JSONField()
    history = HistoricalRecords()

    class Meta:
        ordering = ["id"]
        constraints = [models.UniqueConstraint(fields=["mechanism", "name"], name="variant_once")]


class PartCheck(Fact):
    """A rule run on a part of the control and kept: its inputs as typed, result and verdict."""

    control = models.ForeignKey(
        "controls.Control", on_delete=models.CASCADE, related_name="part_checks"
    )
    kind = models.CharField(max_length=30)
    subject = models.CharField(max_length=60)
    typed = models.JSONField()
    rule = models.CharField(max_length=60)
    edition = models.PositiveIntegerField()
    inputs = models.JSONField()
    inputs_hash = models.CharField(max_length=64)
    result = models.JSONField()
    verdict = models.CharField(max_length=14)
    history = HistoricalRecords()

    class Meta:
        ordering = ["id"]
        constraints = [
            models.UniqueConstraint(fields=["control", "kind", "subject"], name="part_check_once")
        ]
