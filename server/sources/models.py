"""What documents ask beyond travel, and bulletins with their compliance."""

from __future__ import annotations

from django.contrib.postgres.fields import ArrayField
from django.db import models
from django.db.models import F, Q
from simple_history.models import HistoricalRecords

from server.accounts.models import Person
from server.aircraft.models import Bay, Fact, Source


class Statement(Fact):
    """What one document says of one thing: a range or a count, in SI, as printed beside.

    `thing` names it (`Elevator bellcrank bolt: torque`); statements on the same thing are
    compared.
    """

    KINDS = [("range", "range"), ("count", "count")]
    thing = models.CharField(max_length=120)
    bay = models.ForeignKey(Bay, on_delete=models.SET_NULL, null=True, related_name="+")
    kind = models.CharField(max_length=5, choices=KINDS)
    dimension = models.CharField(max_length=12, blank=True)
    lo = models.FloatField()
    hi = models.FloatField()
    unit = models.CharField(max_length=10, blank=True)
    resolution = models.FloatField(default=0)
    as_typed = models.CharField(max_length=60)
    source = models.ForeignKey(Source, on_delete=models.PROTECT, related_name="+")
    page = models.CharField(max_length=30, blank=True)
    history = HistoricalRecords()

    class Meta:
        ordering = ["thing", "id"]
        constraints = [
            models.CheckConstraint(condition=Q(lo__lte=F("hi")), name="statement_low_not_above")
        ]


class Resolution(models.Model):
    """Which statement was chosen for a thing, or an own value, and why. Never changed.

    `seen`: the statements as they stood (`{key: text}`); another one makes it stale.
    """

    aircraft = models.ForeignKey("aircraft.Aircraft", on_delete=models.CASCADE, related_name="+")
    thing = models.CharField(max_length=120)
    chosen = models.CharField(max_length=120)
    reason = models.CharField(max_length=300)
    seen = models.JSONField()
    by = models.ForeignKey(Person, on_delete=models.PROTECT)
    at = models.DateTimeField()

    class Meta:
        ordering = ["id"]


class Directive(Fact):
    """A bulletin: what it applies to, its steps, when first and how often it is due."""

    title = models.CharField(max_length=120)
    source = models.ForeignKey(Source, on_delete=models.PROTECT, related_name="+")
    bays = ArrayField(models.CharField(max_length=50), default=list)
    applies = models.JSONField()
    steps = ArrayField(models.CharField(max_length=200), default=list)
    first_hours = models.FloatField(null=True)
    first_on = models.DateField(null=True)
    every_hours = models.FloatField(null=True)
    every_months = models.PositiveSmallIntegerField(null=True)
    warn_hours = models.FloatField(default=10)
    warn_days = models.PositiveSmallIntegerField(default=30)
    history = HistoricalRecords()

    class Meta:
        ordering = ["id"]


class Compliance(models.Model):
    """A directive was done, or deviated from with approval. Never changed."""

    directive = models.ForeignKey(Directive, on_delete=models.PROTECT, related_name="compliances")
    done_on = models.DateField()
    hours = models.FloatField()
    note = models.CharField(max_length=300, blank=True)
    deviation = models.JSONField(null=True)
    by = models.ForeignKey(Person, on_delete=models.PROTECT)
    at = models.DateTimeField()

    class Meta:
        ordering = ["id"]
        verbose_name = "compliance"
        verbose_name_plural = "compliances"
