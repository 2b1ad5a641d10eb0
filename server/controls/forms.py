"""What the API takes: text as typed, checked for shape here and for meaning in the core."""

from __future__ import annotations

from rest_framework import serializers

from core.controls.travel import METHODS, ZEROS
from server.config.forms import Form
from server.config.text import Text, text


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


class RequirementIn(Form):
    """Limits as typed: nominal with tolerances, or low and high; and the source."""

    version = serializers.IntegerField(required=False, default=0)
    nominal = text(20)
    plus = text(20)
    minus = text(20)
    lo = text(20)
    hi = text(20)
    source = serializers.IntegerField()  # type: ignore[assignment]
    page = text(30)


class NewRequirementIn(RequirementIn):
    """A requirement on a surface's position."""

    surface = serializers.SlugField()
    position = serializers.CharField(max_length=12)
    kind = serializers.ChoiceField(choices=["travel", "neutral"])


class SurfaceIn(Form):
    """A surface's geometry as typed; blank means not known."""

    version = serializers.IntegerField()
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
    """Whether it is a primary control, with the reason where it is not."""

    version = serializers.IntegerField()
    primary = serializers.BooleanField()
    reason = text(200)
