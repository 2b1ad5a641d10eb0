"""What the API takes of cables."""

from __future__ import annotations

from rest_framework import serializers

from server.cables.models import CableEvent
from server.config.forms import Form
from server.config.text import Text, text


class CablesIn(Form):
    """A whole cables file; version 0 for the first."""

    version = serializers.IntegerField()
    document = serializers.JSONField()


class CablesWhatIfIn(Form):
    """A changed file to be worked out; nothing is kept. `rows`: supports pasted into a side."""

    document = serializers.JSONField()
    side = serializers.ChoiceField(choices=["", "A", "B"], required=False, default="")
    rows = Text(required=False, allow_blank=True, default="", max_length=20_000)


class TodayIn(Form):
    """Today's temperature as typed (empty: of the last reading), and how the levers are held."""

    temperature = text(20)
    mode = serializers.ChoiceField(choices=["free", "pinned"], required=False, default="free")
    use_learnt = serializers.BooleanField(required=False, default=True)
    step = serializers.ChoiceField(choices=["0.25", "0.5", "1"], required=False, default="0.5")


class MeasureIn(Form):
    """A measurement as typed, by field; `side` is empty where it is of the driven lever."""

    side = serializers.ChoiceField(choices=["", "A", "B"], required=False, default="")
    method = serializers.ChoiceField(choices=["card", "pull", "pluck", "straight"])
    temperature = text(20)
    instrument = serializers.IntegerField(required=False, allow_null=True, default=None)
    typed = serializers.DictField(
        child=serializers.CharField(max_length=200, allow_blank=True), required=False, default=dict
    )


class WithdrawIn(Form):
    """Why a reading does not count."""

    reason = Text(max_length=200)


class CableEventIn(Form):
    """A thing done, with what was typed of it."""

    doing = serializers.ChoiceField(choices=[d for d, _ in CableEvent.DOINGS if d != "undone"])
    side = serializers.ChoiceField(choices=["", "A", "B"], required=False, default="")
    typed = serializers.DictField(
        child=serializers.CharField(max_length=200, allow_blank=True), required=False, default=dict
    )
    note = text(200)


class CardIn(Form):
    """A calibration card as typed rows; version 0 for the first."""

    version = serializers.IntegerField()
    typed = Text(max_length=20_000)
    u = text(30)
