"""Measuring a cable: a way tried out, a recording heard, a reading kept or taken back."""

from __future__ import annotations

import math
from datetime import UTC, datetime
from typing import Any

from django.core.files.base import ContentFile
from django.http import Http404, HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from core.basis.quantities import LBF, parse
from core.basis.refused import Refused
from core.cables.origins import origins
from core.cables.recording import MOST_BYTES
from core.rulebook import rule
from server.accounts.models import Person
from server.aircraft.access import may, member
from server.cables import forms, measuring, shapes
from server.cables.api import loop_of, on_loop
from server.cables.events import bays_of_work, link_of
from server.cables.keeping import rigged_of
from server.cables.models import CableReading, Loop
from server.config.forms import checked
from server.config.parsing import Json
from server.config.shapes import answer
from server.controls.lookup import control_of
from server.instruments.models import Instrument
from server.instruments.reading import pluck
from server.journal.writing import note
from server.kit.showing import why
from server.kit.writing import Act, flat, writes


def _instrument(aircraft: int, key: int | None) -> Instrument:
    found = Instrument.objects.filter(aircraft=aircraft, pk=key or 0).first()
    if found is None:
        raise Refused("instrument", "choose the instrument")
    if found.kind != "tension":
        raise Refused("instrument", "is no tension instrument")
    return found


def _measured(
    loop: Loop, given: dict[str, Any], content: bytes | None
) -> tuple[measuring.Measured, measuring.Heard | None]:
    """A measurement of one side by its way."""
    if given["method"] == "straight":
        return measuring.straight(given["typed"]), None
    if not given["side"]:
        raise Refused("side", "must be A or B")
    rigged = rigged_of(loop)
    cable = rigged.rigging.cables[given["side"]]
    if given["method"] == "card":
        one = _instrument(loop.aircraft_id, given["instrument"])
        return measuring.by_card(cable, given["typed"], one), None
    if given["method"] == "pull":
        return measuring.by_pull(rigged, cable, given["typed"]), None
    if content is None:
        raise Refused("file", "is needed: the recording of one pluck")
    target = rigged.rigging.target
    if target is None:
        raise Refused("target", "enter what the maker asks: the band of sound follows from it")
    wanted = target.tension_N
    if given["temperature"].strip():
        at = measuring.temperature(given["temperature"])
        wanted = max(rigged.wanted(given["side"], at).tension_N, 0.25 * wanted)
    heard = measuring.by_sound(cable, wanted, given["typed"], content)
    return heard.measured, heard


def _refuse_large(request: Request) -> None:
    if int(request.META.get("CONTENT_LENGTH") or 0) > MOST_BYTES + 10_000:
        raise Refused("file", "is over 16 MB: a few seconds around one pluck are enough")


class TryView(APIView):
    """A way of measuring tried out; saves nothing."""

    stateless = True

    @extend_schema(request=forms.MeasureIn, responses=answer(shapes.Tried))
    def post(self, request: Request, slug: str, control: str) -> Response:
        """Tension and uncertainty from what was typed."""
        loop = loop_of(control_of(member(request, slug), control))
        given = checked(forms.MeasureIn, request)
        m, _ = _measured(loop, given, None)
        return Response(
            shapes.Tried(
                tension_N=m.value,
                u_N=m.u,
                said=_tried_said(given["method"], m.result),
                result=m.result,
                why=why(m.rule, m.inputs, origins(m.rule, m.inputs, "measured now"))
                if m.rule
                else None,
            )
        )


def _tried_said(method: str, r: dict[str, Any]) -> str:
    if method == "card" and "overdue" in r:
        return f"Calibration was due on {r['overdue']}: it cannot be used to sign."
    if method == "card" and r["single"]:
        return "One reading only: take three."
    if method == "pull":
        said = f"The small-angle formula alone would read {r['small_angle_error'] * 100:+.0f} %."
        if r["pull_less"]:
            said += " Pull less: the pull stretches the cable by more than a tenth."
        return said
    return ""


class HearView(APIView):
    """A recording worked out; saves nothing."""

    stateless = True
    parser_classes = [MultiPartParser]

    @extend_schema(
        request={"multipart/form-data": OpenApiTypes.OBJECT}, responses=answer(shapes.Heard)
    )
    def post(self, request: Request, slug: str, control: str) -> Response:
        """Its spectrum, the tone that was found, and the tension that it means."""
        loop = loop_of(control_of(member(request, slug), control))
        _refuse_large(request)
        file = request.FILES.get("file")
        content = file.read() if file is not None else None
        asked = forms.MeasureIn(data=flat(request) | {"method": "pluck"})
        asked.is_valid(raise_exception=True)
        m, heard = _measured(loop, asked.validated_data, content)
        assert heard is not None
        found, spectrum = heard.assessed.found, heard.assessed.spectrum
        return Response(
            shapes.Heard(
                seconds=heard.recording.seconds,
                rate_Hz=heard.recording.rate_Hz,
                channels=heard.recording.channels,
                kept_as=heard.recording.kept_as,
                band_Hz=list(heard.band_Hz),
                spectrum=measuring.spectrum_shown(heard),
                peaks=[[p.frequency_Hz, p.amplitude] for p in spectrum.peaks],
                floor=spectrum.floor,
                frequency_Hz=m.inputs["frequency_Hz"],
                partials=list(found.partials),
                inferred=found.inferred,
                alternatives_Hz=list(found.alternatives_Hz),
                confirm=list(heard.assessed.confirm),
                ideal_N=m.result["ideal_N"],
                low_N=m.result["low_N"],
                high_N=m.result["high_N"],
                tension_N=m.value,
                u_N=m.u,
                why=why(m.rule, m.inputs, origins(m.rule, m.inputs, "measured now")),
            )
        )


def _keep(act: Act) -> None:
    """A tension, or where the surface stands."""
    who, loop, given = act.who, act.subject, act.given
    content = given["file"].read() if "file" in given else None
    m, _ = _measured(loop, given, content)
    if m.more.get("confirm") and given["typed"].get("confirmed") != "yes":
        raise Refused("confirmed", "; ".join(m.more["confirm"]) + ": confirm or record again")
    straight = given["method"] == "straight"
    row = CableReading(
        aircraft=who.aircraft,
        loop=loop,
        side="" if straight else given["side"],
        method=given["method"],
        typed=given["typed"] | {"temperature": given["temperature"]},
        value=m.value,
        u=m.u,
        temperature_K=None if straight else measuring.temperature(given["temperature"]),
        rule=m.rule,
        edition=rule(m.rule).edition if m.rule else 1,
        inputs=m.inputs,
        result=m.result | m.more,
        instrument=m.instrument,
        instrument_was=_as_it_is(m.instrument),
        check_reading=not may(who, "measure"),
        by=who.person,
        at=datetime.now(UTC),
    )
    if content is not None:
        row.recording.save("pluck.wav", ContentFile(content), save=False)
    row.save()
    _note(row, who.person, _read_said(row))


class ReadingsView(APIView):
    """Keeping a measurement; with a recording as a form with a file."""

    parser_classes = [Json, MultiPartParser]

    def initial(self, request: Request, *args: Any, **kwargs: Any) -> None:
        """A large recording is refused before it is read."""
        super().initial(request, *args, **kwargs)
        _refuse_large(request)

    post = writes(
        on_loop(forms.MeasureIn, _keep, ("measure", "check")),
        "Keep a tension, or where the surface stands.",
    )


def _note(row: CableReading, by: Person, said: str) -> None:
    """A line in the journal: hands were on the cable, a counselor's check excepted."""
    loop = row.loop
    bays, work = bays_of_work(loop, row.side), not row.check_reading
    note(loop.aircraft, by, "reading", said, bays, link_of(loop), work)


def _read_said(r: CableReading) -> str:
    name = r.loop.control.name
    if r.method == "straight":
        return f"Measured: {name}, driven lever {math.degrees(r.value):+.1f}°"
    cable = r.loop.sides.get(side=r.side).name.lower()
    return f"Measured: {name}, {cable}: {r.value / LBF:.0f} lb ({r.value:.0f} N)"


def _as_it_is(i: Instrument | None) -> dict[str, Any]:
    if i is None:
        return {}
    due = i.calibration_due.isoformat() if i.calibration_due else ""
    return {"name": i.name, "accuracy": i.accuracy_typed, "calibration_due": due}


class MadeUpView(APIView):
    """Demo only: the sound of a plucked span of the simulated aircraft."""

    @extend_schema(
        parameters=[OpenApiParameter("side", str), OpenApiParameter("span", str)],
        responses={(200, "audio/wav"): OpenApiTypes.BINARY},
    )
    def get(self, request: Request, slug: str, control: str) -> HttpResponse:
        """As WAV."""
        found = control_of(member(request, slug), control)
        span = parse(request.query_params.get("span", ""), "length", "mm", "span").si
        heard = pluck(slug, found.slug, request.query_params.get("side", ""), span)
        if not heard:
            raise Http404
        return HttpResponse(heard, content_type="audio/wav")


SAME = (
    *("aircraft", "loop", "side", "method", "typed", "value", "u", "temperature_K"),
    *("rule", "edition", "inputs", "result", "instrument_was"),
)


def _withdraw(act: Act) -> None:
    """It does not count any more; the row stays."""
    reason = act.given["reason"].strip()
    if len(reason) < 3:
        raise Refused("reason", "say why it does not count")
    old = CableReading.objects.filter(loop=act.subject, pk=act.at["reading"]).first()
    if old is None or old.withdraws_id:
        raise Http404
    if CableReading.objects.filter(withdraws=old).exists():
        raise Refused("reading", "was taken back already")
    CableReading.objects.create(
        **{f: getattr(old, f) for f in SAME},
        withdraws=old,
        reason=reason,
        by=act.who.person,
        at=datetime.now(UTC),
    )
    _note(old, act.who.person, f"{_read_said(old)}, taken back: {reason}")


class WithdrawView(APIView):
    """Taking a reading back, with a reason; the row stays."""

    post = writes(on_loop(forms.WithdrawIn, _withdraw), "It does not count any more.")


class RecordingView(APIView):
    """A kept recording."""

    @extend_schema(responses={(200, "audio/wav"): OpenApiTypes.BINARY})
    def get(self, request: Request, slug: str, control: str, reading: int) -> HttpResponse:
        """As WAV."""
        loop = loop_of(control_of(member(request, slug), control))
        row = CableReading.objects.filter(loop=loop, pk=reading).first()
        if row is None or not row.recording:
            raise Http404
        with row.recording.open("rb") as f:
            return HttpResponse(f.read(), content_type="audio/wav")
