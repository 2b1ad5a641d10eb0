"""The aircraft, its bays and closures, its members and its documents."""

from __future__ import annotations

from django.db import models
from django.db.models import F, Q
from simple_history.models import HistoricalRecords

from server.accounts.models import Person


class Aircraft(models.Model):
    """One build: axes station aft +, butt line right +, water line up +; SI.

    `outline`: side profile `{"top": [[station, water line]...], "bottom": [...], "fin": [...]}`.
    """

    slug = models.SlugField(unique=True)
    name = models.CharField(max_length=80)
    summary = models.CharField(max_length=200)
    datum = models.CharField(max_length=200)
    outline = models.JSONField()

    def __str__(self) -> str:
        return self.name


class Fact(models.Model):
    """What every fact row has: aircraft, version, who and when."""

    aircraft = models.ForeignKey(Aircraft, on_delete=models.CASCADE, related_name="+")
    version = models.PositiveIntegerField(default=1)
    changed_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    changed_at = models.DateTimeField(auto_now=True)

    class Meta:
        abstract = True


class Member(models.Model):
    """A person's role on an aircraft."""

    ROLES = [(r, r) for r in ("owner", "helper", "counselor", "reader")]
    aircraft = models.ForeignKey(Aircraft, on_delete=models.CASCADE, related_name="members")
    person = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="memberships")
    role = models.CharField(max_length=12, choices=ROLES)
    second_inspector = models.BooleanField(default=False)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["aircraft", "person"], name="one_role_each"),
            models.CheckConstraint(
                condition=Q(second_inspector=False) | Q(role="helper"),
                name="second_inspector_is_a_helper",
            ),
        ]


class Bay(models.Model):
    """A real volume of the airframe by station range (wing bays: butt line range), m."""

    PARTS = [(p, p) for p in ("fuselage", "left wing", "right wing", "fin")]
    aircraft = models.ForeignKey(Aircraft, on_delete=models.CASCADE, related_name="bays")
    slug = models.SlugField()
    name = models.CharField(max_length=60)
    part = models.CharField(max_length=12, choices=PARTS)
    start_m = models.FloatField()
    end_m = models.FloatField()
    order = models.PositiveSmallIntegerField()

    class Meta:
        ordering = ["order"]
        constraints = [
            models.UniqueConstraint(fields=["aircraft", "slug"], name="bay_once"),
            models.CheckConstraint(condition=Q(start_m__lt=F("end_m")), name="bay_has_length"),
        ]


class Closure(models.Model):
    """What closes a bay: permanent or removable, open or closed."""

    bay = models.ForeignKey(Bay, on_delete=models.CASCADE, related_name="closures")
    name = models.CharField(max_length=60)
    permanent = models.BooleanField()
    above = models.BooleanField()
    closed = models.BooleanField(default=False)

    class Meta:
        ordering = ["id"]


class Source(Fact):
    """A document with its revision."""

    slug = models.SlugField()
    title = models.CharField(max_length=80)
    revision = models.CharField(max_length=20)
    dated = models.DateField(null=True)
    history = HistoricalRecords()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["aircraft", "slug"], name="source_once")]

    @property
    def cited(self) -> str:
        """As it is cited: title and revision."""
        return f"{self.title} rev {self.revision}"
