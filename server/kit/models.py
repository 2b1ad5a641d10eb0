"""What stands on an aircraft, kept as rows: every check of every trade."""

from __future__ import annotations

from django.contrib.postgres.fields import ArrayField
from django.core.serializers.json import DjangoJSONEncoder
from django.db import models

from server.aircraft.models import Aircraft


class Check(models.Model):
    """One check of a subject, as `core.basis.checks.Check` says it; written by the kit alone.

    `rank`: where its trade stands among all; `order`: its subject within the trade; `place`:
    itself within the subject.
    `due_on`: the first day on which the calendar changes it (`later`).
    """

    aircraft = models.ForeignKey(Aircraft, on_delete=models.CASCADE, related_name="+")
    trade = models.CharField(max_length=20)
    subject = models.CharField(max_length=80)
    key = models.CharField(max_length=120)
    rank = models.PositiveSmallIntegerField(default=0)
    order = models.BigIntegerField(default=0)
    place = models.PositiveIntegerField(default=0)
    concern = models.CharField(max_length=200)
    about = models.CharField(max_length=80, blank=True)
    what = models.TextField()
    said = models.TextField(blank=True)
    verdict = models.CharField(max_length=14)
    step = models.CharField(max_length=12)
    state = models.TextField()
    bays = ArrayField(models.CharField(max_length=50), default=list)
    owner = models.CharField(max_length=80, blank=True)
    link = models.CharField(max_length=200, blank=True)
    closure = models.CharField(max_length=50, blank=True)
    quiet = models.BooleanField(default=False)
    due_on = models.DateField(null=True)
    later = models.JSONField(default=list, encoder=DjangoJSONEncoder)
    rule = models.CharField(max_length=60, blank=True)
    edition = models.PositiveIntegerField(default=0)
    inputs = models.JSONField(default=dict)
    origins = models.JSONField(default=dict)
    part = models.CharField(max_length=20, blank=True)
    side = models.CharField(max_length=4, blank=True)

    class Meta:
        ordering = ["rank", "order", "place"]
        constraints = [
            models.UniqueConstraint(
                fields=["aircraft", "trade", "subject", "key"], name="check_once"
            )
        ]
        indexes = [models.Index(fields=["aircraft", "rank", "order", "place"])]


class JudgedBy(models.Model):
    """The program, by a digest of its source, that judged what is kept: one row."""

    digest = models.CharField(max_length=64)
