"""What the API takes: text as typed, checked for shape here and for meaning in the core."""

from __future__ import annotations

from rest_framework import serializers

from core.controls.patterns import POSITIVE, SIDES
from core.controls.travel import METHODS, ZEROS
from server.config.forms import Form
from server.config.text import Text, text
from server.controls.models import Requirement


class Conditions(Form):
    """Conditions that a reading was taken under; temperature and gap as typed."""

    gust_locks_out = serializers.BooleanField(required=False)
    cables_tensioned = serializers.BooleanField(required=False)
    flap_setting = text(20)
    servo = serializers.ChoiceField(
        choices=["", "connected", "disconnected"], required=False, default="", allow_blank=True
    )
    temperature = text(20)
    gap = text(20)
    arm = text(20)


class ReadingIn(Form):
    """A reading as typed; several values may be parted by `;`."""

    surface = serializers.SlugField()
    position = serializers.CharField(max_length=12)
    method = serializers.ChoiceField(choices=METHODS)
    practice = text(20)
    value = Text(max_length=60, allow_blank=True)
    unit = text(10)
    instrument = serializers.IntegerField()
    zero = serializers.ChoiceField(choices=ZEROS, required=False, default="level")
    sense = serializers.ChoiceField(choices=[1, -1], required=False, default=1)
    side = serializers.ChoiceField(choices=[1, -1], required=False, allow_null=True, default=None)
    skin = text(8)
    place = text(80)
    approach = serializers.ChoiceField(
        choices=["", "above", "below"], required=False, default="", allow_blank=True
    )
    conditions = Conditions(required=False, default=dict)
    taken_at = serializers.DateTimeField(required=False, allow_null=True, default=None)


class CorrectionIn(Form):
    """A new value for a reading, or its withdrawal, with the reason."""

    value = text(60)
    withdraw = serializers.BooleanField(required=False, default=False)
    reason = Text(max_length=200)


class RoundIn(Form):
    """Why all is measured again."""

    reason = Text(max_length=200)
    number = serializers.IntegerField(help_text="The round that this one follows.")


class SenseIn(Form):
    """What was seen over the whole travel."""

    right_way = serializers.BooleanField()
    free = serializers.BooleanField()
    note = text(200)


class DecisionIn(Form):
    """Which requirement of those that disagree holds, and why."""

    requirement = serializers.IntegerField()
    reason = Text(max_length=300)


class LimitsIn(Form):
    """Limits as typed: nominal with tolerances, or low and high, or no tolerance; the source."""

    nominal = text(20)
    plus = text(20)
    minus = text(20)
    lo = text(20)
    hi = text(20)
    no_tolerance = serializers.BooleanField(required=False, default=False)
    source = serializers.IntegerField()  # type: ignore[assignment]
    page = text(30)


class RequirementIn(LimitsIn):
    """Other limits or another source for a requirement, and why."""

    version = serializers.IntegerField()
    reason = Text(max_length=100)


class NewRequirementIn(LimitsIn):
    """A requirement on a surface's position, on both sides, or on a surface."""

    surface = serializers.SlugField(allow_blank=True)
    position = serializers.CharField(max_length=12, allow_blank=True)
    kind = serializers.ChoiceField(choices=[k for k, _ in Requirement.KINDS])


class NewSurfaceIn(Form):
    """A surface: where it is, and which way positive deflection goes."""

    name = Text(max_length=60)
    side = serializers.ChoiceField(choices=SIDES, allow_blank=True)
    bay = text(50)
    positive = serializers.ChoiceField(choices=POSITIVE)


class NewControlIn(Form):
    """A control with its surfaces, its positions, and what must be seen when it moves."""

    name = Text(max_length=60)
    sense_check = Text(max_length=200)
    positions = serializers.ListField(child=serializers.CharField(max_length=12), max_length=20)
    surfaces = serializers.ListField(child=NewSurfaceIn(), max_length=20)
    primary = serializers.BooleanField()
    reason = text(200)


class SurfaceIn(Form):
    """A surface's geometry as typed; blank means not known. Its name and place where sent."""

    version = serializers.IntegerField()
    name = Text(max_length=60, required=False)
    side = serializers.ChoiceField(choices=SIDES, allow_blank=True, required=False)
    bay = Text(max_length=50, allow_blank=True, required=False)
    positive = serializers.ChoiceField(choices=POSITIVE, required=False)
    chord = text(30)
    u_chord = text(30)
    phi = text(30)
    u_phi = text(30)
    sweep = text(30)
    u_sweep = text(30)
    dihedral = text(30)
    neutral_included = text(30)
    u_neutral_included = text(30)


class SourceIn(Form):
    """A document and its revision."""

    title = Text(max_length=80)
    revision = Text(max_length=20)
    dated = serializers.DateField(required=False, allow_null=True, default=None)


class ControlIn(Form):
    """What is said of a control; what is left out stays."""

    version = serializers.IntegerField()
    name = Text(max_length=60, required=False)
    sense_check = Text(max_length=200, required=False)
    positions = serializers.ListField(
        child=serializers.CharField(max_length=12), max_length=20, required=False
    )
    primary = serializers.BooleanField(required=False)
    reason = Text(max_length=200, required=False, allow_blank=True)
