"""A run: its way through the aircraft, what it is made of, and what its maker says of it."""

from __future__ import annotations

from django.contrib.postgres.fields import ArrayField
from django.db import models
from simple_history.models import HistoricalRecords

from server.aircraft.models import Fact, Source


class Run(Fact):
    """Something routed. SI beside what was typed (`typed`, by the form's fields).

    `points_m`: corners of its centreline [station, butt line, water line]. Null: not said.
    `holes`: what it goes through, as `core.runs.holes.Hole` has them. Null: not said.
    `figures`: what a trade keeps of it beside, by the name of the core's field.
    """

    KINDS = [("tube", "tube")]
    SERVICES = [
        (s, s) for s in ("fuel", "oil", "brake", "pitot", "static", "vent", "vacuum", "other")
    ]
    MATERIALS = [(m, m) for m in ("aluminium", "steel", "other")]
    slug = models.SlugField(max_length=60)
    name = models.CharField(max_length=80)
    kind = models.CharField(max_length=10, choices=KINDS)
    service = models.CharField(max_length=10, choices=SERVICES)
    material = models.CharField(max_length=10, choices=MATERIALS)
    od_m = models.FloatField()
    points_m = models.JSONField()
    supports_m = ArrayField(models.FloatField(), null=True)
    holes = models.JSONField(null=True)
    figures = models.JSONField(default=dict)
    typed = models.JSONField(default=dict)
    source = models.ForeignKey(Source, on_delete=models.PROTECT, null=True, related_name="+")
    page = models.CharField(max_length=30, blank=True)
    history = HistoricalRecords()

    class Meta:
        ordering = ["id"]
        constraints = [models.UniqueConstraint(fields=["aircraft", "slug"], name="run_once")]

    def __str__(self) -> str:
        return self.name

    @property
    def placed(self) -> bool:
        """Whether its corners are where it lies; not of what was measured on the bench alone."""
        return bool(self.figures.get("placed", True))
