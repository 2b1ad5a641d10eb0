"""What the API takes of lines: as typed."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from server.config.forms import Form
from server.config.text import Text, text
from server.lines.routes import WAYS
from server.runs.holes import HolesIn
from server.runs.models import Run

MOST_READ = 5000


class LineIn(HolesIn):
    """A tube as typed; lengths in the aircraft's unit. Blank: nobody said it."""

    version = serializers.IntegerField(required=False, default=0)
    name = Text(max_length=80)
    service = serializers.ChoiceField(choices=Run.SERVICES)
    material = serializers.ChoiceField(choices=Run.MATERIALS)
    od = Text(max_length=30)
    way = serializers.ChoiceField(choices=WAYS, required=False, default="corners")
    gap_limit = text(30)
    points = Text(max_length=6000)
    radii = text(300)
    on_former = serializers.BooleanField(required=False, default=False)
    start_allowance = text(30)
    end_allowance = text(30)
    bender_offset = text(30)
    first_trial = text(60)
    second_trial = text(60)
    min_radius = text(30)
    max_spacing = text(30)
    grip = text(30)
    start_straight = text(30)
    end_straight = text(30)
    supports = text(300)
    held = serializers.BooleanField(required=False, default=False)
    source = serializers.IntegerField(  # type: ignore[assignment]
        required=False, allow_null=True, default=None
    )
    page = text(30)
    reason = text(200)


class Moment(serializers.ListField):
    """What was read at one time: minutes, gauge kPa, °C, outside kPa."""

    child = serializers.FloatField()

    def __init__(self, **more: Any) -> None:
        super().__init__(min_length=4, max_length=4, **more)


class LeakIn(Form):
    """A leak test as typed. Blank where it may be: nobody said it. series: as it was read live."""

    volume = text(30)
    start_gauge = text(30)
    end_gauge = text(30)
    start_temperature = text(30)
    end_temperature = text(30)
    start_barometer = text(30)
    end_barometer = text(30)
    minutes = text(30)
    max_test = text(30)
    allowed = text(30)
    u_gauge = text(30)
    u_temperature = text(30)
    u_barometer = text(30)
    u_volume = text(30)
    source = text(120)  # type: ignore[assignment]
    note = text(200)
    series = serializers.ListField(
        child=Moment(), required=False, default=list, max_length=MOST_READ
    )


class OpenedIn(Form):
    """The line was opened."""

    note = text(200)
