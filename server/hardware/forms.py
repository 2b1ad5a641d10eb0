"""What the API takes of joints, stock and compounds: as typed."""

from __future__ import annotations

from rest_framework import serializers

from server.config.forms import Form
from server.config.text import Text, text
from server.hardware.models import Joint


def flag() -> serializers.BooleanField:
    """A tick that may be left out."""
    return serializers.BooleanField(required=False, default=False)


class FitIn(Form):
    """A hole and a shaft as measured; several values parted by `;`."""

    hole = Text(max_length=120)
    shaft = Text(max_length=120)
    u_hole = text(30)
    u_shaft = text(30)
    need = serializers.ChoiceField(choices=["turn", "slip", "press"])
    clear_min = text(30)
    clear_max = text(30)


class MetalsIn(Form):
    """Two materials that touch."""

    a = Text(max_length=60)
    b = Text(max_length=60)
    environment = serializers.ChoiceField(
        choices=["harsh", "normal", "controlled"], required=False, default="harsh"
    )
    remedy = serializers.ChoiceField(
        choices=["none", "wet sealant", "wet primer", "barrier"], required=False, default="none"
    )


class JointIn(Form):
    """A joint as typed."""

    version = serializers.IntegerField(required=False, default=0)
    name = Text(max_length=80)
    part = text(200)
    bay = text(50)
    station = text(30)
    butt_line = text(30)
    water_line = text(30)
    control = text(50)
    layers = text(300)
    stack_tol = text(30)
    bolt = serializers.IntegerField(required=False, allow_null=True, default=None)
    nut = serializers.IntegerField(required=False, allow_null=True, default=None)
    head_washers = text(80)
    nut_washers = text(80)
    turned = serializers.ChoiceField(choices=["nut", "head"], required=False, default="nut")
    rotating = flag()
    loss_prevents_safe_flight = flag()
    device = serializers.ChoiceField(
        choices=[d for d, _ in Joint.DEVICES], required=False, allow_blank=True, default=""
    )
    insert = serializers.ChoiceField(
        choices=["none", "metal", "nonmetallic"], required=False, default="none"
    )
    temperature_max = text(20)
    torque = text(40)
    torque_source = serializers.IntegerField(required=False, allow_null=True, default=None)
    torque_page = text(30)
    drag = text(30)
    witness_needed = flag()
    photo_needed = flag()
    needs_access = flag()
    two_hands = flag()
    retorque_at_hours = serializers.FloatField(required=False, allow_null=True, default=None)
    compound = serializers.IntegerField(required=False, allow_null=True, default=None)
    fit = FitIn(required=False, allow_null=True, default=None)
    metals = MetalsIn(required=False, allow_null=True, default=None)


class EventIn(Form):
    """Something done to a joint."""

    doing = serializers.ChoiceField(
        choices=[
            "installed",
            "run down",
            "torqued",
            "safetied",
            "sealed",
            "loosened",
            "disturbed",
            "mark broken",
        ]
    )
    value = text(40)
    instrument = serializers.IntegerField(required=False, allow_null=True, default=None)
    note = text(200)


class UndoIn(Form):
    """Which event is taken back."""

    event = serializers.IntegerField()


class StockIn(Form):
    """A bolt, nut or washer as measured or from its maker."""

    kind = serializers.ChoiceField(choices=["bolt", "nut", "washer"])
    name = Text(max_length=40)
    thread = text(20)
    grip = text(30)
    length = text(30)
    threads_per_inch = text(20)
    pitch = text(30)
    drilled = flag()
    head_drilled = flag()
    hole_from_head = text(30)
    nut_kind = serializers.ChoiceField(
        choices=["self_locking", "castellated", "nutplate", "plain"],
        required=False,
        allow_blank=True,
        default="",
    )
    height = text(30)
    counterbore = text(30)
    slot_depth = text(30)
    pin_diameter = text(30)
    thickness = text(30)


class CompoundIn(Form):
    """A tin, with its dates."""

    name = Text(max_length=60)
    batch = text(40)
    expiry_on = serializers.DateField(
        error_messages={"invalid": "give a day as 2027-02-28 (a month alone: maker's convention)"}
    )
    opened_on = serializers.DateField(required=False, allow_null=True, default=None)
    life_open_days = serializers.IntegerField(
        required=False, allow_null=True, default=None, min_value=1, max_value=5000
    )


class StockChangeIn(StockIn):
    """A stock item measured again, as it was seen."""

    version = serializers.IntegerField()


class CompoundChangeIn(CompoundIn):
    """A tin corrected, as it was seen."""

    version = serializers.IntegerField()


class ChooseIn(Form):
    """A stack, and the nut that goes on."""

    layers = Text(max_length=300)
    stack_tol = text(30)
    nut = serializers.IntegerField()
    thread = text(20)
    turned = serializers.ChoiceField(choices=["nut", "head"], required=False, default="nut")


class WrenchIn(Form):
    """What the wrench is set to."""

    thread = text(20)
    nut_type = serializers.ChoiceField(
        choices=["tension", "shear"], required=False, default="tension"
    )
    torque = text(40)
    drag = text(30)
    wrench = Text(max_length=30)
    extension = text(30)
    angle = text(20)
