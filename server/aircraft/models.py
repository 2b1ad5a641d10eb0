"""The aircraft, its bays and closures, its members and its documents."""

from __future__ import annotations

from django.contrib.postgres.fields import ArrayField
from django.db import models
from django.db.models import F, Q
from simple_history.models import HistoricalRecords

from core.aircraft.bays import PARTS, SPANWISE, Limits
from core.runs.bays import Box
from server.accounts.models import Person


class Aircraft(models.Model):
    """One build: axes station aft +, butt line right +, water line up +; SI.

    `outline`: `{"top": [[station, water line]...], "bottom": [...], "fin": [...], "plan":
    [[station, half width]...]}`. `facts`: what directives ask of it (model, serial, parts).
    `arm_m`, `arm_width_m`: the reach of whoever works on it.
    """

    UNITS = [(u, u) for u in ("mm", "in")]
    slug = models.SlugField(unique=True)
    name = models.CharField(max_length=80)
    summary = models.CharField(max_length=200, blank=True)
    datum = models.CharField(max_length=200, blank=True)
    outline = models.JSONField()
    length_unit = models.CharField(max_length=2, choices=UNITS, default="mm")
    arm_m = models.FloatField(null=True)
    arm_width_m = models.FloatField(null=True)
    hours_run = models.FloatField(default=0)
    facts = models.JSONField(default=dict)
    version = models.PositiveIntegerField(default=1)

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


class Bay(Fact):
    """A real volume of the airframe: a box of station, butt line and water line, m."""

    PARTS = [(p, p) for p in PARTS]
    aircraft = models.ForeignKey(Aircraft, on_delete=models.CASCADE, related_name="bays")
    slug = models.SlugField()
    name = models.CharField(max_length=60)
    part = models.CharField(max_length=12, choices=PARTS)
    x0_m = models.FloatField()
    x1_m = models.FloatField()
    y0_m = models.FloatField()
    y1_m = models.FloatField()
    z0_m = models.FloatField()
    z1_m = models.FloatField()
    order = models.PositiveSmallIntegerField()
    history = HistoricalRecords()

    class Meta:
        ordering = ["order"]
        constraints = [
            models.UniqueConstraint(fields=["aircraft", "slug"], name="bay_once"),
            models.CheckConstraint(
                condition=Q(x0_m__lt=F("x1_m"), y0_m__lt=F("y1_m"), z0_m__lt=F("z1_m")),
                name="bay_has_volume",
            ),
        ]

    def __str__(self) -> str:
        return self.name

    @property
    def box(self) -> Box:
        """As a box of the core."""
        return Box(self.slug, (self.x0_m, self.y0_m, self.z0_m), (self.x1_m, self.y1_m, self.z1_m))

    @property
    def limits(self) -> Limits:
        """Its ranges of station, butt line and water line, m."""
        x, y, z = ((getattr(self, f"{a}0_m"), getattr(self, f"{a}1_m")) for a in "xyz")
        return Limits(x, y, z)

    @property
    def along(self) -> tuple[float, float]:
        """Where it begins and ends along its part: butt line of a wing or tail, else station."""
        if self.part in SPANWISE:
            near, far = sorted((abs(self.y0_m), abs(self.y1_m)))
            return near, far
        return self.x0_m, self.x1_m


class Closure(Fact):
    """What closes bays: permanent or removable, open or closed, and when it is planned."""

    aircraft = models.ForeignKey(Aircraft, on_delete=models.CASCADE, related_name="closures")
    slug = models.SlugField()
    name = models.CharField(max_length=60)
    permanent = models.BooleanField()
    above = models.BooleanField()
    closed = models.BooleanField(default=False)
    bays = models.ManyToManyField(Bay, related_name="closures")
    planned_on = models.DateField(null=True, blank=True)
    inspection_needed = models.BooleanField(default=False)
    photo_needed = models.BooleanField(default=False)
    history = HistoricalRecords()

    class Meta:
        ordering = ["id"]
        constraints = [models.UniqueConstraint(fields=["aircraft", "slug"], name="closure_once")]

    def __str__(self) -> str:
        return self.name


class Opening(Fact):
    """A rectangle that an arm can pass: between a bay and outside (`bay_b` null), or two bays."""

    slug = models.SlugField()
    name = models.CharField(max_length=60)
    bay_a = models.ForeignKey(Bay, on_delete=models.CASCADE, related_name="+")
    bay_b = models.ForeignKey(Bay, on_delete=models.CASCADE, related_name="+", null=True)
    closure = models.ForeignKey(
        Closure, on_delete=models.CASCADE, related_name="openings", null=True
    )
    lo_m = ArrayField(models.FloatField(), size=3)
    hi_m = ArrayField(models.FloatField(), size=3)
    width_m = models.FloatField()
    history = HistoricalRecords()

    class Meta:
        ordering = ["id"]
        constraints = [
            models.UniqueConstraint(fields=["aircraft", "slug"], name="opening_once"),
            models.CheckConstraint(condition=Q(width_m__gt=0), name="opening_has_width"),
        ]


class NoneHere(models.Model):
    """A person's word that a bay holds nothing of one kind (no joints, no controls)."""

    bay = models.ForeignKey(Bay, on_delete=models.CASCADE, related_name="none_here")
    capability = models.CharField(max_length=20)
    by = models.ForeignKey(Person, on_delete=models.PROTECT)
    at = models.DateTimeField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["bay", "capability"], name="none_said_once")]


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
