"""Controls, their surfaces and requirements, and the readings. SI beside what was typed."""

from __future__ import annotations

from django.db import models
from django.db.models import F, Q
from simple_history.models import HistoricalRecords

from server.accounts.models import Person
from server.aircraft.models import Aircraft, Bay, Fact, Source
from server.instruments.models import Instrument


class Control(models.Model):
    """One control system. `sense_check` is what must be seen before anyone signs.

    `primary`: whether it is a primary control (14 CFR 23.689); so until a person says why not.
    """

    aircraft = models.ForeignKey(Aircraft, on_delete=models.CASCADE, related_name="controls")
    slug = models.SlugField()
    name = models.CharField(max_length=60)
    order = models.PositiveSmallIntegerField()
    sense_check = models.CharField(max_length=200)
    positions = models.JSONField()
    primary = models.BooleanField(default=True)
    primary_reason = models.CharField(max_length=200, blank=True)
    version = models.PositiveIntegerField(default=1)
    history = HistoricalRecords()

    class Meta:
        ordering = ["order"]
        constraints = [models.UniqueConstraint(fields=["aircraft", "slug"], name="control_once")]


class Surface(Fact):
    """A moving surface. `positive` is where positive deflection goes; `u_` are standard."""

    POSITIVE = [(p, p) for p in ("trailing_edge_up", "trailing_edge_down", "trailing_edge_right")]
    control = models.ForeignKey(Control, on_delete=models.CASCADE, related_name="surfaces")
    slug = models.SlugField()
    name = models.CharField(max_length=60)
    side = models.CharField(max_length=5, blank=True)
    bay = models.ForeignKey(Bay, on_delete=models.SET_NULL, null=True)
    positive = models.CharField(max_length=20, choices=POSITIVE)
    chord_m = models.FloatField(null=True)
    chord_typed = models.CharField(max_length=30, blank=True)
    u_chord_m = models.FloatField(default=0)
    phi_rad = models.FloatField(default=0)
    u_phi_rad = models.FloatField(default=0)
    sweep_rad = models.FloatField(null=True)
    u_sweep_rad = models.FloatField(default=0)
    dihedral_rad = models.FloatField(default=0)
    neutral_included_rad = models.FloatField(null=True)
    u_neutral_included_rad = models.FloatField(default=0)
    history = HistoricalRecords()

    class Meta:
        ordering = ["id"]
        constraints = [
            models.UniqueConstraint(fields=["aircraft", "slug"], name="surface_once"),
            models.CheckConstraint(
                condition=Q(chord_m__isnull=True) | Q(chord_m__gt=0), name="chord_is_positive"
            ),
        ]


class Requirement(Fact):
    """What a source asks. Angles in rad; `ratio` has no unit. Either limit may be open.

    kind `travel` and `neutral` belong to a surface and position; `symmetry` (± tolerance
    between sides) to the control, `ratio` and `repeatability` to a surface. no_tolerance: the
    document gives one figure and no limits, so that nothing is In by it.
    """

    KINDS = [(k, k) for k in ("travel", "neutral", "symmetry", "ratio", "repeatability")]
    control = models.ForeignKey(Control, on_delete=models.CASCADE, related_name="requirements")
    surface = models.ForeignKey(
        Surface, on_delete=models.CASCADE, null=True, related_name="requirements"
    )
    kind = models.CharField(max_length=14, choices=KINDS)
    position = models.CharField(max_length=12, blank=True)
    lo = models.FloatField(null=True)
    hi = models.FloatField(null=True)
    no_tolerance = models.BooleanField(default=False)
    as_typed = models.CharField(max_length=60)
    source = models.ForeignKey(Source, on_delete=models.PROTECT, related_name="requirements")
    page = models.CharField(max_length=30, blank=True)
    history = HistoricalRecords()

    class Meta:
        ordering = ["id"]
        constraints = [
            models.CheckConstraint(
                condition=Q(lo__isnull=False) | Q(hi__isnull=False), name="requirement_has_a_limit"
            ),
            models.CheckConstraint(
                condition=Q(lo__isnull=True) | Q(hi__isnull=True) | Q(lo__lte=F("hi")),
                name="low_not_above_high",
            ),
        ]


class Round(models.Model):
    """One time of measuring all: a new one starts after rework, the old one is kept.

    `carries`: surfaces that the rework did not touch; what was read of them before still
    stands.
    """

    control = models.ForeignKey(Control, on_delete=models.CASCADE, related_name="rounds")
    number = models.PositiveIntegerField()
    reason = models.CharField(max_length=200)
    carries = models.JSONField(default=list)
    started_by = models.ForeignKey(Person, on_delete=models.PROTECT)
    started_at = models.DateTimeField()

    class Meta:
        ordering = ["number"]
        constraints = [models.UniqueConstraint(fields=["control", "number"], name="round_once")]


class Reading(models.Model):
    """One measured value, never changed. A correction names the reading that it replaces.

    The instrument's figures are kept as they were when it was read. `first` is the first
    of its chain and `rev` the place in it; `withdrawn` ends a chain without a value.
    """

    aircraft = models.ForeignKey(Aircraft, on_delete=models.CASCADE, related_name="+")
    surface = models.ForeignKey(Surface, on_delete=models.PROTECT, related_name="readings")
    round = models.ForeignKey(Round, on_delete=models.PROTECT, related_name="readings")
    position = models.CharField(max_length=12)
    method = models.CharField(max_length=20)
    practice = models.CharField(max_length=20, blank=True)
    value = models.FloatField()
    as_typed = models.CharField(max_length=60)
    unit = models.CharField(max_length=10)
    instrument = models.ForeignKey(Instrument, on_delete=models.PROTECT)
    instrument_was = models.JSONField()
    zero = models.CharField(max_length=14)
    sense = models.SmallIntegerField(default=1)
    side = models.SmallIntegerField(null=True)
    skin = models.CharField(max_length=8, blank=True)
    place = models.CharField(max_length=80, blank=True)
    approach = models.CharField(max_length=6, blank=True)
    conditions = models.JSONField(default=dict)
    check_reading = models.BooleanField(default=False)
    taken_at = models.DateTimeField()
    taken_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    recorded_at = models.DateTimeField(auto_now_add=True)
    corrects = models.OneToOneField(
        "self", on_delete=models.PROTECT, null=True, related_name="corrected_by"
    )
    first = models.ForeignKey("self", on_delete=models.PROTECT, null=True, related_name="chain")
    rev = models.PositiveIntegerField(default=1)
    withdrawn = models.BooleanField(default=False)
    reason = models.CharField(max_length=200, blank=True)

    class Meta:
        ordering = ["id"]
        constraints = [
            models.CheckConstraint(condition=Q(sense__in=(1, -1)), name="sense_is_one"),
            models.CheckConstraint(
                condition=Q(corrects__isnull=True, rev=1) | Q(corrects__isnull=False, rev__gt=1),
                name="a_correction_counts_up",
            ),
        ]

    @property
    def chain_id(self) -> int:
        """The id of the first reading of its chain: the fact's id."""
        return int(self.first_id or self.pk)


class Assessment(models.Model):
    """The verdict on a requirement, kept with its rule, edition and a hash of its inputs."""

    requirement = models.OneToOneField(
        Requirement, on_delete=models.CASCADE, related_name="assessment"
    )
    verdict = models.CharField(max_length=14)
    rule = models.CharField(max_length=60)
    edition = models.PositiveIntegerField()
    inputs_hash = models.CharField(max_length=64)
    result = models.JSONField()
    at = models.DateTimeField(auto_now=True)


class SenseCheck(models.Model):
    """What was seen when the control was moved over its whole travel. Never changed."""

    control = models.ForeignKey(Control, on_delete=models.CASCADE, related_name="sense_checks")
    round = models.ForeignKey(Round, on_delete=models.PROTECT, related_name="sense_checks")
    text = models.CharField(max_length=200)
    right_way = models.BooleanField()
    free = models.BooleanField()
    note = models.CharField(max_length=200, blank=True)
    seen_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()

    class Meta:
        ordering = ["id"]


class SourceDecision(models.Model):
    """Which of the sources that disagree was chosen, and why. Never changed."""

    surface = models.ForeignKey(Surface, on_delete=models.CASCADE, related_name="decisions")
    position = models.CharField(max_length=12)
    requirement = models.ForeignKey(Requirement, on_delete=models.PROTECT)
    reason = models.CharField(max_length=300)
    decided_by = models.ForeignKey(Person, on_delete=models.PROTECT)
    at = models.DateTimeField()

    class Meta:
        ordering = ["id"]


# The rows of linkages live beside their code.
from server.controls.linkage.models import (  # noqa: E402
    Adjustment,
    Body,
    Mechanism,
    PartCheck,
    Rod,
    Stop,
    Variant,
)

__all__ = [
    "Adjustment",
    "Assessment",
    "Body",
    "Control",
    "Mechanism",
    "PartCheck",
    "Reading",
    "Requirement",
    "Rod",
    "Round",
    "SenseCheck",
    "SourceDecision",
    "Stop",
    "Surface",
    "Variant",
]
