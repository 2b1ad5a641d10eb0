"""Everything that can be found, in words, with where it is."""

from __future__ import annotations

from django.contrib.postgres.fields import ArrayField
from django.contrib.postgres.indexes import GinIndex, OpClass
from django.contrib.postgres.search import SearchVectorField
from django.db import models
from django.db.models.functions import Upper

from server.aircraft.models import Aircraft


class Findable(models.Model):
    """One findable thing; kept current by its capability (`find.indexing`)."""

    aircraft = models.ForeignKey(Aircraft, on_delete=models.CASCADE, related_name="+")
    kind = models.CharField(max_length=16)
    key = models.CharField(max_length=60)
    title = models.CharField(max_length=200)
    text = models.TextField(blank=True)
    bays = ArrayField(models.CharField(max_length=50), default=list)
    point_m = ArrayField(models.FloatField(), size=3, null=True)
    link = models.CharField(max_length=200, blank=True)
    words = SearchVectorField(null=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["aircraft", "kind", "key"], name="found_once")
        ]
        indexes = [
            GinIndex(fields=["words"], name="findable_words"),
            GinIndex(OpClass(Upper("title"), name="gin_trgm_ops"), name="findable_title"),
        ]
