"""Reading a live instrument through PyVISA: allowed addresses only, one reader at a time."""

from __future__ import annotations

import base64
import json
import math
import socket
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from datetime import UTC, datetime, timedelta
from typing import Any

import pyvisa
from django.conf import settings
from django.db import connection, transaction
from rest_framework import status
from rest_framework.exceptions import APIException

from core.basis.settling import ENOUGH, settled
from server.instruments.models import Instrument, Trace

LIMIT_MS = 1000
LEAST_PAUSE = timedelta(milliseconds=190)
LOCKS = 0x41534C
COMMANDS = {
    "angle": "MEAS:ANGL?",
    "temperature": "MEAS:TEMP?",
    "tension": "MEAS:SCAL?",
    "pressure": "MEAS:PRES?",
    "resistance": "MEAS:RES?",
    "current": "MEAS:CURR?",
    "signal": "READ?",
    "mass": "MEAS:MASS?",
}
SENSIBLE = {
    "angle": (-360.0, 360.0),
    "temperature": (-80.0, 80.0),
    "tension": (-1e3, 1e3),
    "pressure": (-1.2e5, 1e6),
    "resistance": (-1.0, 1e12),
    "current": (-1e4, 1e4),
    "signal": (-1e9, 1e9),
    "mass": (-100.0, 1e5),
}
# What lies where it is read: nobody puts it anywhere.
HANGS = ("temperature", "pressure")
# What the stand-ins' hand does with each kind.
HANDS = {
    "tension": "CLAMP",
    "resistance": "PROBE",
    "current": "SWITCH",
    "signal": "WAKE",
    "mass": "WEIGH",
}


class NoAnswer(APIException):
    """The instrument did not answer, or not sensibly. What was typed is not touched."""

    status_code = status.HTTP_503_SERVICE_UNAVAILABLE


class TooOften(APIException):
    """Someone else reads it now, or it was read less than a fifth of a second ago."""

    status_code = status.HTTP_429_TOO_MANY_REQUESTS


def poll(instrument: Instrument, run: str, place: tuple[str, str]) -> tuple[float, bool, int]:
    """One value (rad, K, Pa, Ω, A or as its scale counts), whether the last eight have settled,
    how many there are.

    `run` names one live reading; a new run starts afresh. `place` (surface, position; for a
    tension instrument control, side; a wire; a bus and its breaker; a device) tells the demo's
    stand-in where it is put; a real one is put there by hand.
    """
    with transaction.atomic(), _alone(instrument):
        trace, _ = Trace.objects.get_or_create(instrument=instrument)
        now = datetime.now(UTC)
        if trace.run == run and trace.polled_at and now - trace.polled_at < LEAST_PAUSE:
            raise TooOften("Read at most five times a second.")
        if trace.run != run:
            trace.run, trace.values = run, []
            if instrument.kind not in HANGS:
                lay(instrument, *place)
        value = ask(instrument)
        trace.values = [*trace.values, value][-ENOUGH:]
        trace.polled_at = now
        trace.save()
        return value, settled(trace.values, instrument.resolution), len(trace.values)


def ask(instrument: Instrument) -> float:
    """Ask for the value by standard command; rad, K, Pa, Ω, A or as its scale counts."""
    if instrument.address not in settings.INSTRUMENT_ADDRESSES:
        raise NoAnswer(f"{instrument.name}: its address is not among those allowed on this server.")
    manager = pyvisa.ResourceManager("@py")
    try:
        device = manager.open_resource(
            instrument.address,
            open_timeout=LIMIT_MS,
            timeout=LIMIT_MS,
            read_termination="\n",
            write_termination="\n",
        )
        try:
            answer = device.query(COMMANDS[instrument.kind])  # type: ignore[attr-defined]
        finally:
            device.close()
    except (pyvisa.Error, OSError) as error:
        said = f"{instrument.name} does not answer: is it on? You can type the value."
        raise NoAnswer(said) from error
    except UnicodeDecodeError as error:
        raise NoAnswer(_garbled(instrument)) from error
    try:
        value = float(answer)
    except ValueError as error:
        raise NoAnswer(_garbled(instrument)) from error
    low, high = SENSIBLE[instrument.kind]
    if not (math.isfinite(value) and low <= value <= high):
        raise NoAnswer(_garbled(instrument))
    return {"angle": math.radians(value), "temperature": value + 273.15}.get(instrument.kind, value)


Rig = Callable[[str, str], "tuple[str, dict[str, Any]] | None"]
_rigs: list[Rig] = []


def rigs(told: Rig) -> Rig:
    """Register who knows what was turned: (aircraft, surface) -> (mechanism, changes)."""
    _rigs.append(told)
    return told


def lay(instrument: Instrument, surface: str, position: str) -> None:
    """Demo only: the stand-in's hand turns what was recorded, puts the instrument in its place
    and moves the control."""
    aircraft = instrument.aircraft.slug
    where = HANDS.get(instrument.kind, "LAY")
    if not settings.INSTRUMENT_HAND:
        return
    _by_hand([*_turned(aircraft, surface), f"{where} {aircraft} {surface} {position or '-'}"])


def pluck(aircraft: str, control: str, side: str, span_m: float) -> bytes:
    """Demo only: what a microphone hears of a plucked span, a WAV; empty without stand-ins."""
    if not settings.INSTRUMENT_HAND:
        return b""
    line = f"PLUCK {aircraft} {control} {side} {span_m:.4f}"
    answers = _by_hand([*_turned(aircraft, control), line])
    try:
        return base64.b64decode(answers[-1], validate=True) if answers else b""
    except ValueError:
        return b""  # The stand-in said in words that there is no such cable.


def _turned(aircraft: str, place: str) -> list[str]:
    turned = (told(aircraft, place) for told in _rigs)
    return [f"RIG {name} {json.dumps(changes)}" for name, changes in filter(None, turned)]


def _by_hand(lines: list[str]) -> list[str]:
    """What the hand answers to each line; nothing if it is away."""
    host, _, port = settings.INSTRUMENT_HAND.rpartition(":")
    try:
        with socket.create_connection((host, int(port)), timeout=2.0) as hand:
            answers = hand.makefile("r", encoding="ascii")
            found = []
            for line in lines:
                hand.sendall(f"{line}\n".encode())
                found.append(answers.readline().strip())
            return found
    except OSError:
        return []  # The instrument itself will say that it does not answer.


def _garbled(instrument: Instrument) -> str:
    noun = {"angle": "angle", "temperature": "temperature"}.get(instrument.kind, "reading")
    return f"{instrument.name} answered something that is no {noun}. You can type the value."


@contextmanager
def _alone(instrument: Instrument) -> Iterator[None]:
    with connection.cursor() as cursor:
        cursor.execute("SELECT pg_try_advisory_xact_lock(%s, %s)", [LOCKS, instrument.pk])
        row = cursor.fetchone()
    if not row or not row[0]:
        raise TooOften("Someone else is reading this instrument.")
    yield
