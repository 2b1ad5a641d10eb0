"""A control's loop of cables as rows, what was measured on it and what was done to it.

Coordinates are aircraft axes, m; angles rad. Readings and events are append-only.
"""

from __future__ import annotations

from django.contrib.postgres.fields import ArrayField
from django.db import models
from django.db.models import Q
from simple_history.models import HistoricalRecords

from server.accounts.models import Person
from server.aircraft.models import Aircraft, Fact
from server.instruments.models import Instrument
from server.kit.records import Event

SIDES = [("A", "A"), ("B", "B")]


class Loop(Fact):
    """The two cables of a control between two levers."""

    control = models.OneToOneField(
        "controls.Control", on_delete=models.CASCADE, related_name="cables"
    )
    slug = models.SlugField(max_length=60)
    name = models.CharField(max_length=80, blank=True)
    driver = models.JSONField()
    driven = models.JSONField()
    target = models.JSONField(null=True)
    airframe = models.JSONField(default=list)
    more = models.JSONField(default=dict)
    history = HistoricalRecords()


class Cable(Fact):
    """One side of a loop. `turns`: all that was recorded (+ tightens); `counted_at`: how many
    of them when the thread showing was counted. `holes`: null where nobody said."""

    loop = models.ForeignKey(Loop, on_delete=models.CASCADE, related_name="sides")
    side = models.CharField(max_length=1, choices=SIDES)
    name = models.CharField(max_length=80, blank=True)
    construction = models.CharField(max_length=4)
    material = models.CharField(max_length=20)
    diameter_in = models.FloatField(null=True)
    figures = models.JSONField(default=dict)
    turnbuckle = models.JSONField(null=True)
    ends = models.JSONField(default=dict)
    slide_on = models.JSONField(default=list)
    fittings = models.JSONField(default=list)
    holes = models.JSONField(null=True)
    edge_gap = models.FloatField(null=True)
    turns = models.FloatField(default=0)
    counted_at = models.FloatField(default=0)
    history = HistoricalRecords()

    class Meta:
        ordering = ["side"]
        constraints = [models.UniqueConstraint(fields=["loop", "side"], name="side_once")]


class Support(Fact):
    """A pulley, fairlead or guide, in order from driver to driven."""

    cable = models.ForeignKey(Cable, on_delete=models.CASCADE, related_name="supports")
    slug = models.CharField(max_length=60)
    order = models.PositiveSmallIntegerField()
    kind = models.CharField(max_length=8)
    centre_m = ArrayField(models.FloatField(), size=3)
    more = models.JSONField(default=dict)
    history = HistoricalRecords()

    class Meta:
        ordering = ["order"]
        constraints = [models.UniqueConstraint(fields=["cable", "slug"], name="support_once")]


class CableReading(models.Model):
    """A tension (N) of one side, or where the driven lever stands (rad). Never changed."""

    METHODS = [(m, m) for m in ("card", "pull", "pluck", "straight")]
    aircraft = models.ForeignKey(Aircraft, on_delete=models.CASCADE, related_name="+")
    loop = models.ForeignKey(Loop, on_delete=models.PROTECT, related_name="readings")
    side = models.CharField(max_length=1, choices=SIDES, blank=True)
    method = models.CharField(max_length=8, choices=METHODS)
    typed = models.JSONField()
    value = models.FloatField()
    u = models.FloatField()
    temperature_K = models.FloatField(null=True)
    rule = models.CharField(max_length=60, blank=True)
    edition = models.PositiveIntegerField(default=1)
    inputs = models.JSONField(default=dict)
    result = models.JSONField(default=dict)
    instrument = models.ForeignKey(
        Instrument, on_delete=models.PROTECT, null=True, related_name="+"
    )
    instrument_was = models.JSONField(default=dict)
    recording = models.FileField(upload_to="plucks/", blank=True)
    check_reading = models.BooleanField(default=False)
    withdraws = models.OneToOneField(
        "self", on_delete=models.PROTECT, null=True, related_name="withdrawn_by"
    )
    reason = models.CharField(max_length=200, blank=True)
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()

    class Meta:
        ordering = ["id"]
        constraints = [
            models.CheckConstraint(
                condition=Q(method="straight") | Q(value__gte=0), name="a_cable_cannot_push"
            ),
            models.CheckConstraint(condition=Q(u__gte=0), name="cable_u_not_negative"),
        ]


class CableEvent(Event):
    """One thing done to a cable, with what a rule said of it. `undoes` takes one back."""

    DOINGS = [
        (d, d)
        for d in (
            "turned",
            "safetied",
            "unsafetied",
            "slid on",
            "pressed",
            "sleeve",
            "proof",
            "stretch",
            "inspected",
            "step",
            "undone",
        )
    ]
    loop = models.ForeignKey(Loop, on_delete=models.PROTECT, related_name="events")
    side = models.CharField(max_length=1, choices=SIDES, blank=True)
    doing = models.CharField(max_length=12, choices=DOINGS)
    data = models.JSONField(default=dict)
    rule = models.CharField(max_length=60, blank=True)
    inputs = models.JSONField(default=dict)
    result = models.JSONField(default=dict)


class CalibrationCard(Fact):
    """The card of a tension instrument: tables {riser, diameter_m, points [[reading, N]]}."""

    instrument = models.OneToOneField(Instrument, on_delete=models.CASCADE, related_name="card")
    typed = models.TextField()
    tables = models.JSONField()
    u_card_N = models.FloatField(default=0)
    u_typed = models.CharField(max_length=30, blank=True)
    history = HistoricalRecords()
