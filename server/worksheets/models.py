"""A worksheet: what was typed under its kind's fields, where it belongs, from which document."""

from __future__ import annotations

from django.contrib.postgres.fields import ArrayField
from django.db import models
from simple_history.models import HistoricalRecords

from core.worksheets.kinds import Kind, kind_of
from server.aircraft.models import Fact, Source


class Worksheet(Fact):
    """One sheet. `bays`: those it was put in; none: it stands in all."""

    slug = models.SlugField(max_length=60)
    kind = models.CharField(max_length=30)
    name = models.CharField(max_length=80)
    typed = models.JSONField(default=dict)
    bays = ArrayField(models.SlugField(max_length=50), default=list)
    source = models.ForeignKey(Source, on_delete=models.PROTECT, null=True, related_name="+")
    page = models.CharField(max_length=30, blank=True)
    history = HistoricalRecords()

    class Meta:
        ordering = ["id"]
        constraints = [models.UniqueConstraint(fields=["aircraft", "slug"], name="worksheet_once")]

    def __str__(self) -> str:
        return self.name

    @property
    def of(self) -> Kind:
        """Its kind."""
        return kind_of(self.kind)

    @property
    def cited(self) -> str:
        """The document of its limits, in words."""
        return ", ".join(x for x in (self.source.cited if self.source else "", self.page) if x)

    @property
    def link(self) -> str:
        """Where it is shown, under its aircraft."""
        return f"{self.of.trade}?part={self.of.part.replace(' ', '-')}&sheet={self.slug}"
