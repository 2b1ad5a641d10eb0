"""What happened, in order, and who has looked since. Written by every capability."""

from __future__ import annotations

from django.contrib.postgres.fields import ArrayField
from django.contrib.postgres.indexes import GinIndex
from django.db import models

from server.accounts.models import Person
from server.aircraft.models import Aircraft


class Change(models.Model):
    """One thing that was done. `work`: hands were on the aircraft. Never changed."""

    aircraft = models.ForeignKey(Aircraft, on_delete=models.CASCADE, related_name="+")
    at = models.DateTimeField(db_index=True)
    by = models.ForeignKey(Person, on_delete=models.PROTECT)
    kind = models.CharField(max_length=16)
    said = models.CharField(max_length=300)
    bays = ArrayField(models.CharField(max_length=50), default=list)
    link = models.CharField(max_length=200, blank=True)
    work = models.BooleanField(default=False)

    class Meta:
        ordering = ["-at", "-id"]
        indexes = [
            models.Index(fields=["aircraft", "-at"]),
            GinIndex(fields=["bays"], name="change_bays"),
        ]


class Visit(models.Model):
    """A person has looked at everything up to this moment."""

    aircraft = models.ForeignKey(Aircraft, on_delete=models.CASCADE, related_name="+")
    person = models.ForeignKey(Person, on_delete=models.CASCADE)
    at = models.DateTimeField()

    class Meta:
        ordering = ["-at"]
