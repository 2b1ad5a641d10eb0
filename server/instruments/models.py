"""Measuring instruments and the trace of a live reading."""

from __future__ import annotations

from django.db import models
from django.db.models import Q
from simple_history.models import HistoricalRecords

from server.aircraft.models import Fact


class Instrument(Fact):
    """An instrument: accuracy (half-width) and resolution (one step) in SI, as typed beside.

    A tension instrument counts in divisions of its own scale: its card says what they mean; a
    device's signal is in the unit of its maker.
    """

    KINDS = [
        (k, k)
        for k in ("angle", "length", "torque", "tension", "temperature", "pressure",
                  "resistance", "current", "signal", "mass")
    ]  # fmt: skip
    FACES = [(f, f) for f in ("full_360", "plus_minus_180", "plus_minus_90", "quadrant_90")]
    name = models.CharField(max_length=60)
    kind = models.CharField(max_length=12, choices=KINDS)
    accuracy = models.FloatField()
    accuracy_typed = models.CharField(max_length=30)
    resolution = models.FloatField()
    resolution_typed = models.CharField(max_length=30)
    face = models.CharField(max_length=16, choices=FACES, blank=True)
    calibrated_on = models.DateField(null=True, blank=True)
    calibration_due = models.DateField(null=True, blank=True)
    address = models.CharField(max_length=120, blank=True)
    history = HistoricalRecords()

    class Meta:
        ordering = ["id"]
        constraints = [
            models.UniqueConstraint(fields=["aircraft", "name"], name="instrument_once"),
            models.CheckConstraint(condition=Q(accuracy__gt=0), name="instrument_has_accuracy"),
            models.CheckConstraint(condition=Q(resolution__gte=0), name="resolution_not_negative"),
        ]


class Trace(models.Model):
    """The last values of one live reading, so that any server process can see it settle."""

    instrument = models.OneToOneField(Instrument, on_delete=models.CASCADE, related_name="trace")
    run = models.CharField(max_length=64)
    values = models.JSONField(default=list)
    polled_at = models.DateTimeField(null=True)
