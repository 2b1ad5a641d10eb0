"""What people leave behind: loose ends, findings, notes and photos."""

from __future__ import annotations

from django.db import models
from django.db.models import Q

from server.accounts.models import Person
from server.aircraft.models import Aircraft, Bay, Fact
from server.hardware.models import Joint

TARGETS = ("aircraft", "bay", "closure", "joint", "finding")


class LooseEnd(Fact):
    """Something temporary: what, why, what ends it, where; ended by a person at a time."""

    what = models.CharField(max_length=160)
    reason = models.CharField(max_length=200, blank=True)
    ends_with = models.CharField(max_length=80)
    bay = models.ForeignKey(Bay, on_delete=models.SET_NULL, null=True, related_name="+")
    joint = models.ForeignKey(Joint, on_delete=models.PROTECT, null=True, related_name="loose_ends")
    left_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    left_at = models.DateTimeField()
    ended_by = models.ForeignKey(Person, on_delete=models.PROTECT, null=True, related_name="+")
    ended_at = models.DateTimeField(null=True)
    how = models.CharField(max_length=200, blank=True)

    class Meta:
        ordering = ["ends_with", "id"]
        constraints = [
            models.CheckConstraint(
                condition=Q(ended_by__isnull=True, ended_at__isnull=True)
                | Q(ended_by__isnull=False, ended_at__isnull=False),
                name="ended_by_someone",
            )
        ]


class Finding(Fact):
    """A defect that someone recorded, open until answered and closed."""

    text = models.CharField(max_length=500)
    bay = models.ForeignKey(Bay, on_delete=models.SET_NULL, null=True, related_name="+")
    joint = models.ForeignKey(Joint, on_delete=models.PROTECT, null=True, related_name="+")
    raised_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    raised_at = models.DateTimeField()
    answer = models.CharField(max_length=500, blank=True)
    closed_by = models.ForeignKey(Person, on_delete=models.PROTECT, null=True, related_name="+")
    closed_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["id"]


class Note(models.Model):
    """A note on the aircraft or on one thing of it. Never changed; withdrawn by its writer."""

    aircraft = models.ForeignKey(Aircraft, on_delete=models.CASCADE, related_name="+")
    target = models.CharField(max_length=10)
    target_id = models.CharField(max_length=60, blank=True)
    bay = models.ForeignKey(Bay, on_delete=models.SET_NULL, null=True, related_name="+")
    text = models.CharField(max_length=1000)
    by = models.ForeignKey(Person, on_delete=models.PROTECT)
    at = models.DateTimeField()
    withdrawn_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["-id"]


class Photo(Fact):
    """A picture as it was taken, with a drawn overlay kept beside it.

    `overlay`: arrows and labels `[{"kind", "x0", "y0", "x1", "y1", "text"}]` in shares of
    the picture. `shows`: what it proves (`witness mark`, `before closing`), if anything.
    """

    SHOWS = [(s, s) for s in ("", "witness mark", "before closing")]
    target = models.CharField(max_length=10)
    target_id = models.CharField(max_length=60, blank=True)
    bay = models.ForeignKey(Bay, on_delete=models.SET_NULL, null=True, related_name="+")
    file = models.FileField(upload_to="photos/")
    thumb = models.FileField(upload_to="thumbs/")
    media_type = models.CharField(max_length=20)
    width = models.PositiveIntegerField()
    height = models.PositiveIntegerField()
    sha256 = models.CharField(max_length=64)
    caption = models.CharField(max_length=200, blank=True)
    shows = models.CharField(max_length=16, choices=SHOWS, blank=True)
    overlay = models.JSONField(default=list)
    taken_at = models.DateTimeField()
    camera_time = models.BooleanField(default=False)
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")

    class Meta:
        ordering = ["-taken_at", "-id"]
