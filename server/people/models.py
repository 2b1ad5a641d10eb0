"""Invitations: a link that works once."""

from __future__ import annotations

from django.db import models
from django.db.models import Q

from server.accounts.models import Person
from server.aircraft.models import Aircraft, Member


class Invitation(models.Model):
    """A role offered to whoever has its link; without an aircraft: an account alone.

    Only a digest of the link's token is kept: who reads the database cannot use it.
    """

    aircraft = models.ForeignKey(
        Aircraft, on_delete=models.CASCADE, null=True, related_name="invitations"
    )
    role = models.CharField(max_length=12, choices=Member.ROLES, blank=True)
    second_inspector = models.BooleanField(default=False)
    digest = models.CharField(max_length=64, unique=True)
    made_by = models.ForeignKey(Person, on_delete=models.PROTECT, null=True, related_name="+")
    made_at = models.DateTimeField(auto_now_add=True)
    expires_at = models.DateTimeField()
    used_by = models.ForeignKey(Person, on_delete=models.PROTECT, null=True, related_name="+")
    used_at = models.DateTimeField(null=True)
    withdrawn_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["id"]
        constraints = [
            models.CheckConstraint(
                condition=Q(aircraft__isnull=True, role="")
                | (Q(aircraft__isnull=False) & ~Q(role="")),
                name="a_role_is_on_an_aircraft",
            ),
            models.CheckConstraint(
                condition=Q(used_at__isnull=True) | Q(withdrawn_at__isnull=True),
                name="used_or_withdrawn",
            ),
        ]
