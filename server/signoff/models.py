"""The ledger, and every revision of every fact that a signature may cover."""

from __future__ import annotations

from django.db import models

from server.accounts.models import Person
from server.aircraft.models import Aircraft


class FactRevision(models.Model):
    """One revision of a fact: its canonical value and the hash that signatures hold."""

    aircraft = models.ForeignKey(Aircraft, on_delete=models.CASCADE, related_name="+")
    fact = models.CharField(max_length=120)
    rev = models.PositiveIntegerField()
    v = models.TextField()
    hash = models.CharField(max_length=64)
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        indexes = [models.Index(fields=["aircraft", "hash"])]
        constraints = [
            models.UniqueConstraint(fields=["aircraft", "fact", "rev"], name="revision_once")
        ]


class LedgerEntry(models.Model):
    """One entry of an aircraft's ledger; `body` is the canonical text that is hashed."""

    aircraft = models.ForeignKey(Aircraft, on_delete=models.PROTECT, related_name="ledger")
    seq = models.PositiveIntegerField()
    kind = models.CharField(max_length=12)
    body = models.TextField()
    prev = models.CharField(max_length=64)
    hash = models.CharField(max_length=64)
    by = models.ForeignKey(Person, on_delete=models.PROTECT)
    scope = models.CharField(max_length=80)
    at = models.DateTimeField()

    class Meta:
        ordering = ["seq"]
        constraints = [models.UniqueConstraint(fields=["aircraft", "seq"], name="entry_once")]


class ScopeState(models.Model):
    """The facts of a scope as they are now, id to hash; kept with every change."""

    aircraft = models.ForeignKey(Aircraft, on_delete=models.CASCADE, related_name="+")
    scope = models.CharField(max_length=80)
    facts = models.JSONField(default=dict)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["aircraft", "scope"], name="state_once")]
