"""Instruments: the list, adding and changing one, and reading one live."""

from __future__ import annotations

import math
from datetime import date
from typing import Any, Literal, TypedDict

from django.conf import settings
from django.db import transaction
from django.http import Http404
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from core.basis.quantities import parse
from core.basis.refused import Refused
from core.basis.uncertainty import of_resolution, rectangular
from server.aircraft.access import check_version, member
from server.config.forms import Form
from server.config.shapes import answer
from server.config.text import Text, text
from server.instruments.models import Instrument
from server.instruments.reading import poll
from server.journal.writing import changed, note
from server.kit.removing import one_of, removal
from server.kit.writing import writes

# In which unit a bare number is of each kind.
UNITS = {
    "angle": "deg", "length": "mm", "torque": "Nm", "pressure": "kPa", "resistance": "ohm",
    "current": "A", "mass": "kg",
}  # fmt: skip


class InstrumentShown(TypedDict):
    """An instrument; accuracy and resolution as typed and in °, mm, N·m, kPa, Ω or A; u: standard
    uncertainty of one reading, of both."""

    id: int
    version: int
    name: str
    kind: Literal[
        "angle", "length", "torque", "tension", "temperature", "pressure",
        "resistance", "current", "signal", "mass",
    ]  # fmt: skip
    face: str
    accuracy: float
    accuracy_typed: str
    resolution: float
    resolution_typed: str
    u: float
    calibrated_on: str
    calibration_due: str
    overdue: bool
    live: bool
    address: str


class InstrumentList(TypedDict):
    """All instruments of an aircraft, and the addresses that one may be read at."""

    addresses: list[str]
    count: int
    results: list[InstrumentShown]


class Live(TypedDict):
    """A live value (°, °C, kPa, Ω, A or as its scale counts), and whether it has settled."""

    value: float
    settled: bool
    values: int


class InstrumentIn(Form):
    """An instrument as typed."""

    version = serializers.IntegerField(required=False, default=0)
    name = Text(max_length=60)
    kind = serializers.ChoiceField(choices=[k for k, _ in Instrument.KINDS])
    face = serializers.ChoiceField(
        choices=["", *(f for f, _ in Instrument.FACES)],
        required=False,
        default="",
        allow_blank=True,
    )
    accuracy = Text(max_length=30, allow_blank=True)
    resolution = Text(max_length=30, allow_blank=True)
    calibrated_on = serializers.DateField(required=False, allow_null=True, default=None)
    calibration_due = serializers.DateField(required=False, allow_null=True, default=None)
    address = text(120)


class PollIn(Form):
    """One live reading: its run, and where the instrument lies (surface or control, position
    or side; a wire, a bus and its breaker, a device; a thermometer lies nowhere)."""

    run = serializers.CharField(min_length=8, max_length=64)
    surface = serializers.SlugField(required=False, default="", allow_blank=True)
    position = serializers.SlugField(max_length=60, required=False, default="", allow_blank=True)


def shown(i: Instrument) -> InstrumentShown:
    """An instrument for the screen."""
    per = {"angle": math.degrees(1.0), "length": 1e3, "pressure": 1e-3}.get(i.kind, 1.0)
    return InstrumentShown(
        id=i.pk,
        version=i.version,
        name=i.name,
        kind=i.kind,  # type: ignore[typeddict-item]
        face=i.face,
        accuracy=i.accuracy * per,
        accuracy_typed=i.accuracy_typed,
        resolution=i.resolution * per,
        resolution_typed=i.resolution_typed,
        u=math.hypot(rectangular(i.accuracy), of_resolution(i.resolution)) * per,
        calibrated_on=i.calibrated_on.isoformat() if i.calibrated_on else "",
        calibration_due=i.calibration_due.isoformat() if i.calibration_due else "",
        overdue=bool(i.calibration_due and i.calibration_due < date.today()),
        live=bool(i.address),
        address=i.address,
    )


def put(i: Instrument, given: dict[str, Any]) -> None:
    """Put what was typed on an instrument; refuses by field what cannot be."""
    for field in ("accuracy", "resolution"):
        if not given[field].strip():
            raise Refused(
                field, "is needed: the maker's limit" if field == "accuracy" else "is needed"
            )
        value = _step(given["kind"], given[field], field)
        if value <= 0:
            raise Refused(field, "must be greater than zero")
        setattr(i, field, value)
        setattr(i, f"{field}_typed", given[field])
    if given["kind"] == "angle" and not given["face"]:
        raise Refused("face", "say how the gauge's face counts")
    if given["address"] and given["address"] not in settings.INSTRUMENT_ADDRESSES:
        raise Refused("address", "is not among those allowed on this server")
    if given["calibrated_on"] and given["calibrated_on"] > date.today():
        raise Refused("calibrated_on", "lies in the future")
    for field in ("name", "kind", "face", "calibrated_on", "calibration_due", "address"):
        setattr(i, field, given[field])
    if Instrument.objects.filter(aircraft=i.aircraft, name=i.name).exclude(pk=i.pk).exists():
        raise Refused("name", "is there already")


def _step(kind: str, text: str, field: str) -> float:
    """A typed accuracy or resolution in SI; as its own scale counts where it has one."""
    if kind in ("tension", "signal"):
        return _plain(text.removesuffix("div"), field)
    if kind == "temperature":
        # A difference of temperatures: the zero of the scale must not come in.
        return (
            parse(text, kind, "C", field).si
            - parse("0" + text.strip("0123456789.,-+ "), kind, "C", field).si
        )
    unit = UNITS[kind]
    return parse(text, kind, unit, field).si


def _plain(text: str, field: str) -> float:
    try:
        value = float(text.strip().replace(",", "."))
    except ValueError:
        raise Refused(field, "must be a bare number, as its scale counts") from None
    if not math.isfinite(value):
        raise Refused(field, "must be a finite number")
    return value


class InstrumentsView(APIView):
    """The instruments of an aircraft."""

    @extend_schema(responses=answer(InstrumentList))
    def get(self, request: Request, slug: str) -> Response:
        """All of them."""
        return Response(self._all(member(request, slug).aircraft_id))

    @extend_schema(request=InstrumentIn, responses=answer(InstrumentList, 201))
    def post(self, request: Request, slug: str) -> Response:
        """Add one."""
        who = member(request, slug, "measure")
        asked = InstrumentIn(data=request.data)
        asked.is_valid(raise_exception=True)
        given = dict(asked.validated_data)
        given.pop("version")
        one = Instrument(aircraft=who.aircraft, changed_by=who.person)
        put(one, given)
        with transaction.atomic():
            one.save()
            note(who.aircraft, who.person, "instrument", f"New: {one.name}", link="controls")
        return Response(self._all(who.aircraft_id), status=201)

    @staticmethod
    def _all(aircraft: int) -> InstrumentList:
        rows = [shown(i) for i in Instrument.objects.filter(aircraft=aircraft)]
        return InstrumentList(
            addresses=settings.INSTRUMENT_ADDRESSES, count=len(rows), results=rows
        )


class InstrumentRemovalView(APIView):
    """Taking an instrument away that nothing was read with."""

    post = writes(
        removal(
            "instrument",
            one_of(Instrument, "instrument"),
            may="measure",
            link="instruments",
        ),
        "Refused where anything was read or torqued with it; 409 on an old version.",
    )


def told(i: Instrument) -> dict[str, str]:
    """What is entered of an instrument, in words, as the journal tells a change of it."""
    return {
        "name": i.name,
        "kind": i.kind,
        "face": i.face.replace("_", " ") or "none",
        "accuracy": f"±{i.accuracy_typed}",
        "step": i.resolution_typed,
        "calibrated": i.calibrated_on.isoformat() if i.calibrated_on else "",
        "calibration due": i.calibration_due.isoformat() if i.calibration_due else "",
        "address": i.address or "none",
    }


class InstrumentView(APIView):
    """Changing an instrument: readings taken before keep its figures as they were."""

    @extend_schema(request=InstrumentIn, responses=answer(InstrumentList))
    def patch(self, request: Request, slug: str, instrument: int) -> Response:
        """Keep the change; 409 with both sides on an old version."""
        who = member(request, slug, "measure")
        asked = InstrumentIn(data=request.data)
        asked.is_valid(raise_exception=True)
        given = asked.validated_data
        with transaction.atomic():
            rows = Instrument.objects.select_for_update()
            one = rows.filter(aircraft=who.aircraft, pk=instrument).first()
            if one is None:
                raise Http404
            check_version(one, given["version"], shown(one), request.data)
            was = told(one)
            put(one, given)
            one.version, one.changed_by = one.version + 1, who.person
            one.save()
            said = f"{one.name}: {changed(was, told(one)) or 'kept as it was'}"
            note(who.aircraft, who.person, "instrument", said, link="instruments")
        return Response(InstrumentsView._all(who.aircraft_id))


class PollView(APIView):
    """Reading an instrument live."""

    stateless = True

    @extend_schema(request=PollIn, responses=answer(Live))
    def post(self, request: Request, slug: str, instrument: int) -> Response:
        """One value; saves no reading."""
        who = member(request, slug)
        asked = PollIn(data=request.data)
        asked.is_valid(raise_exception=True)
        given = asked.validated_data
        one = (
            Instrument.objects.select_related("aircraft")
            .filter(aircraft=who.aircraft, pk=instrument)
            .first()
        )
        if one is None:
            raise Http404
        if not one.address:
            raise Refused("instrument", "has no address: it cannot be read live")
        value, still, count = poll(one, given["run"], (given["surface"], given["position"]))
        shown_as = {
            "angle": math.degrees(value),
            "temperature": value - 273.15,
            "pressure": value / 1e3,
        }
        return Response(Live(value=shown_as.get(one.kind, value), settled=still, values=count))
