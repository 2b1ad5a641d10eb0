"""Joints and what was done to them, the hardware in stock, compounds. SI beside what was typed."""

from __future__ import annotations

from django.contrib.postgres.fields import ArrayField
from django.db import models
from django.db.models import F, Q
from simple_history.models import HistoricalRecords

from core.hardware.joint import DEVICES
from server.aircraft.models import Bay, Fact, Source
from server.instruments.models import Instrument
from server.kit.records import Event


class StockItem(Fact):
    """A bolt, nut or washer of the user's catalogue; `data` in SI, `typed` as entered."""

    KINDS = [(k, k) for k in ("bolt", "nut", "washer")]
    kind = models.CharField(max_length=6, choices=KINDS)
    name = models.CharField(max_length=40)
    thread = models.CharField(max_length=20, blank=True)
    data = models.JSONField()
    typed = models.JSONField(default=dict)
    history = HistoricalRecords()

    class Meta:
        ordering = ["kind", "id"]
        constraints = [
            models.UniqueConstraint(fields=["aircraft", "kind", "name"], name="stock_once")
        ]


class Compound(Fact):
    """A tin, tube or cartridge; times are its maker's, as [K, s]."""

    name = models.CharField(max_length=60)
    batch = models.CharField(max_length=40, blank=True)
    expiry_on = models.DateField()
    opened_on = models.DateField(null=True)
    life_open_days = models.PositiveIntegerField(null=True)
    storage_max_k = models.FloatField(null=True)
    stored_k = models.FloatField(null=True)
    pot_points = models.JSONField(default=list)
    cure_points = models.JSONField(default=list)
    history = HistoricalRecords()

    class Meta:
        ordering = ["id"]


class Joint(Fact):
    """Something fastened. What it needs is entered; `done` follows from it.

    `stack`: layers `[{"name", "typed", "m"}]`; washers: thicknesses, m; `fit`: hole and
    shaft as measured; `metals`: the pair in contact. `done`: the securing state folded
    from the events; what the rules say of it is kept by the kit.
    """

    # Empty: nobody said what keeps it from turning.
    DEVICES = [(d, d) for d in DEVICES]
    slug = models.SlugField(max_length=60)
    name = models.CharField(max_length=80)
    part = models.CharField(max_length=200, blank=True)
    bay = models.ForeignKey(Bay, on_delete=models.SET_NULL, null=True, related_name="joints")
    point_m = ArrayField(models.FloatField(), size=3, null=True)
    control = models.CharField(max_length=50, blank=True)
    stack = models.JSONField(default=list)
    stack_tol_m = models.FloatField(default=0)
    bolt = models.ForeignKey(StockItem, on_delete=models.PROTECT, null=True, related_name="+")
    nut = models.ForeignKey(StockItem, on_delete=models.PROTECT, null=True, related_name="+")
    head_washers_m = ArrayField(models.FloatField(), default=list)
    nut_washers_m = ArrayField(models.FloatField(), default=list)
    turned = models.CharField(max_length=4, default="nut")
    rotating = models.BooleanField(default=False)
    loss_prevents_safe_flight = models.BooleanField(default=False)
    device = models.CharField(max_length=12, choices=DEVICES, blank=True)
    insert = models.CharField(max_length=12, default="none")
    temperature_max_k = models.FloatField(null=True)
    torque_low_nm = models.FloatField(null=True)
    torque_high_nm = models.FloatField(null=True)
    torque_typed = models.CharField(max_length=40, blank=True)
    torque_source = models.ForeignKey(Source, on_delete=models.PROTECT, null=True, related_name="+")
    torque_page = models.CharField(max_length=30, blank=True)
    drag_nm = models.FloatField(default=0)
    witness_needed = models.BooleanField(default=False)
    photo_needed = models.BooleanField(default=False)
    needs_access = models.BooleanField(default=False)
    two_hands = models.BooleanField(default=False)
    retorque_at_hours = models.FloatField(null=True)
    compound = models.ForeignKey(Compound, on_delete=models.PROTECT, null=True, related_name="+")
    fit = models.JSONField(null=True)
    metals = models.JSONField(null=True)
    done = models.JSONField(default=dict)
    temporary = models.BooleanField(default=False)
    state = models.CharField(max_length=12, default="open")
    why = ArrayField(models.CharField(max_length=120), default=list)
    verdict = models.CharField(max_length=14, default="not measured")
    torqued_at = models.DateTimeField(null=True)
    history = HistoricalRecords()

    class Meta:
        ordering = ["id"]
        constraints = [
            models.UniqueConstraint(fields=["aircraft", "slug"], name="joint_once"),
            models.CheckConstraint(
                condition=Q(torque_low_nm__isnull=True)
                | Q(torque_low_nm__gt=0, torque_low_nm__lte=F("torque_high_nm")),
                name="torque_range_is_one",
            ),
        ]

    def __str__(self) -> str:
        return self.name


class JointEvent(Event):
    """One thing done to a joint, with who and when. Never changed; `undoes` takes one back."""

    DOINGS = [
        (d, d)
        for d in (
            "installed",
            "run down",
            "torqued",
            "safetied",
            "sealed",
            "loosened",
            "disturbed",
            "mark broken",
            "undone",
        )
    ]
    joint = models.ForeignKey(Joint, on_delete=models.PROTECT, related_name="events")
    doing = models.CharField(max_length=12, choices=DOINGS)
    as_typed = models.CharField(max_length=40, blank=True)
    torque_nm = models.FloatField(null=True)
    instrument = models.ForeignKey(Instrument, on_delete=models.PROTECT, null=True)
    instrument_was = models.JSONField(default=dict)
    compound = models.ForeignKey(Compound, on_delete=models.PROTECT, null=True)
