"""A tension from what was typed or recorded, by card, by pull or by sound; or how straight.

Each way gives the value and its standard uncertainty with the inputs of the rule that made
them; nothing is kept here.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import date
from typing import Any

from core.basis.quantities import parse
from core.basis.refused import Refused
from core.basis.uncertainty import rectangular
from core.cables.cable import bending_bounds
from core.cables.card import SAME_SIZE_M
from core.cables.document import Cable
from core.cables.done import (
    HIGHEST_SHARE,
    LOWEST_SHARE,
    U_DEFLECTION_M,
    U_FORCE_N,
    U_MASS_REL,
    U_PLUCKED_SPAN_M,
    U_SPAN_M,
    u_of_card,
)
from core.cables.pluck_check import Assessed, assess_pluck
from core.cables.recording import Recording, read_wav
from core.cables.rigging import Rigged
from core.cables.string import string_frequency
from core.rulebook.registry import rule
from server.cables.models import CalibrationCard
from server.instruments.models import Instrument

SPECTRUM_POINTS = 400


@dataclass
class Measured:
    """Value (N, or rad) with its standard uncertainty and the rule that gave it."""

    value: float
    u: float
    rule: str
    inputs: dict[str, Any]
    result: dict[str, Any]
    instrument: Instrument | None = None
    more: dict[str, Any] = field(default_factory=dict)


def temperature(text: str) -> float:
    """A typed temperature, K."""
    if not text.strip():
        raise Refused("temperature", "is needed: tension without temperature says nothing")
    return parse(text, "temperature", "C", "temperature").si


def _length(typed: Mapping[str, str], name: str, needed: bool = True) -> float | None:
    if not typed.get(name, "").strip():
        if needed:
            raise Refused(name, "is needed")
        return None
    value = parse(typed[name], "length", "mm", name).si
    if value <= 0:
        raise Refused(name, "must be greater than zero")
    return value


def _u_of(typed: Mapping[str, str], name: str, default: float, of: str = "length") -> float:
    unit = {"length": "mm", "force": "lbf"}[of]
    text = typed.get(name, "").strip()
    value = parse(text, of, unit, name).si if text else default
    if value < 0:
        raise Refused(name, "must not be negative")
    return value


def by_card(cable: Cable, typed: Mapping[str, str], instrument: Instrument) -> Measured:
    """An instrument's readings by its calibration card."""
    card = CalibrationCard.objects.filter(instrument=instrument).first()
    if card is None:
        raise Refused(
            "instrument", f"{instrument.name} has no calibration card yet: enter it first"
        )
    readings = _numbers(typed.get("readings", ""), "readings")
    u = u_of_card(instrument.accuracy, instrument.resolution)
    riser = typed.get("riser", "").strip() or _riser(card, cable)
    inputs = {
        "tables": card.tables,
        "riser": riser,
        "diameter_m": cable.data.diameter_m,
        "readings": readings,
        "u_reading": u,
        "u_card_N": card.u_card_N,
    }
    r = rule("cables.card_tension").run(inputs)
    due = instrument.calibration_due
    if due and due < date.today():
        r["overdue"] = due.isoformat()
    return Measured(r["tension_N"], r["u_tension_N"], "cables.card_tension", inputs, r, instrument)


def _riser(card: CalibrationCard, cable: Cable) -> str:
    """The riser that the card pairs with this cable, if only one."""
    d = cable.data.diameter_m
    found = [t["riser"] for t in card.tables if abs(t["diameter_m"] - d) <= SAME_SIZE_M]
    if not found:
        raise Refused("instrument", "its card has no table for this cable size")
    if len(found) > 1:
        raise Refused("riser", f"which riser: {', '.join(found)}")
    return str(found[0])


def _numbers(text: str, name: str) -> list[float]:
    parts = [p for p in text.replace(",", ".").replace(";", " ").split() if p]
    if not parts:
        raise Refused(name, "needs a reading, or several with ; between")
    try:
        found = [float(p) for p in parts]
    except ValueError:
        raise Refused(name, "must be numbers of divisions, with ; between") from None
    if not all(math.isfinite(v) for v in found):
        raise Refused(name, "must be finite numbers")
    return found


def by_pull(rigged: Rigged, cable: Cable, typed: Mapping[str, str]) -> Measured:
    """A spring scale at mid-span and the deflection it makes."""
    if not typed.get("force", "").strip():
        raise Refused("force", "is needed")
    a, b = rigged.compliance
    own = a if cable.side == "A" else b
    pinned = typed.get("levers", "free") == "pinned"
    compliance = own if pinned else a + b
    share = cable.data.u_ae_N / cable.data.ae_N
    inputs = {
        "span_m": _length(typed, "span"),
        "force_N": parse(typed["force"], "force", "lbf", "force").si,
        "deflection_m": _length(typed, "deflection"),
        "compliance_m_per_N": compliance,
        "u_span_m": _u_of(typed, "u_span", U_SPAN_M),
        "u_force_N": _u_of(typed, "u_force", U_FORCE_N, "force"),
        "u_deflection_m": _u_of(typed, "u_deflection", U_DEFLECTION_M),
        "u_compliance_m_per_N": compliance * share,
    }
    r = rule("cables.sideways_pull").run(inputs)
    return Measured(r["tension_N"], r["u_tension_N"], "cables.sideways_pull", inputs, r)


@dataclass
class Heard:
    """A recording worked out: what it is, its spectrum, and the tension it means."""

    recording: Recording
    assessed: Assessed
    measured: Measured
    band_Hz: tuple[float, float]


def by_sound(cable: Cable, wanted_N: float, typed: Mapping[str, str], content: bytes) -> Heard:
    """A plucked span: frequency from the recording, tension between its bounds.

    wanted_N: the target, from which the band of frequencies is made. A turnbuckle in the span
    refuses the method.
    """
    if typed.get("clear") != "yes":
        raise Refused(
            "clear", "say that nothing but cable is in this span: a turnbuckle rules it out"
        )
    span = _length(typed, "span")
    assert span is not None
    mass = cable.data.mass_per_length_kg_m
    recording = read_wav(content)
    band = (
        string_frequency(LOWEST_SHARE * wanted_N, span, mass),
        string_frequency(HIGHEST_SHARE * wanted_N, span, mass),
    )
    assessed = assess_pluck(recording.samples, recording.rate_Hz, *band)
    frequency = assessed.found.frequency_Hz
    chosen = typed.get("frequency", "").strip()
    if chosen:
        frequency = _chosen(chosen, assessed)
    low, high = bending_bounds(cable.construction, cable.data.diameter_m)
    inputs = {
        "frequency_Hz": frequency,
        "span_m": span,
        "mass_per_length_kg_m": mass,
        "ei_low_Nm2": low,
        "ei_high_Nm2": high,
        "u_frequency_Hz": assessed.found.u_frequency_Hz,
        "u_span_m": _u_of(typed, "u_span", U_PLUCKED_SPAN_M),
        "u_mass_rel": U_MASS_REL,
    }
    r = rule("cables.plucked_tension").run(inputs)
    measured = Measured(
        r["tension_N"],
        r["u_tension_N"],
        "cables.plucked_tension",
        inputs,
        r,
        more={"confirm": list(assessed.confirm)},
    )
    return Heard(recording, assessed, measured, band)


def _chosen(text: str, assessed: Assessed) -> float:
    """A frequency that the person took instead: one of those that were offered."""
    try:
        wanted = float(text)
    except ValueError:
        raise Refused("frequency", "must be a number of Hz") from None
    offered = (assessed.found.frequency_Hz, *assessed.found.alternatives_Hz)
    near = min(offered, key=lambda f: abs(f - wanted))
    if abs(near - wanted) > 0.02 * near:
        raise Refused("frequency", "is not among the tones that were offered")
    return near


def straight(typed: Mapping[str, str]) -> Measured:
    """Where the driven lever stands, rad, + the way its axis turns it."""
    text = typed.get("angle", "").strip()
    if not text:
        raise Refused("angle", "is needed: 0 where it stands straight")
    value = parse(text, "angle", "deg", "angle").si
    if abs(value) > 0.5:
        raise Refused("angle", "must lie within ±28°")
    accuracy = parse(typed.get("accuracy", "").strip() or "0.2", "angle", "deg", "accuracy").si
    if accuracy < 0:
        raise Refused("accuracy", "must not be negative")
    return Measured(value, rectangular(accuracy), "", {}, {})


def spectrum_shown(heard: Heard) -> list[list[float]]:
    """The spectrum thinned to what can be drawn: [Hz, amplitude], peaks kept."""
    s = heard.assessed.spectrum
    step = max(1, len(s.frequencies_Hz) // SPECTRUM_POINTS)
    found = []
    for i in range(0, len(s.frequencies_Hz), step):
        part = slice(i, i + step)
        k = int(s.amplitudes[part].argmax())
        found.append([float(s.frequencies_Hz[part][k]), float(s.amplitudes[part][k])])
    return found


def card_from(text: str) -> list[dict[str, Any]]:
    """A calibration card from typed rows: riser, cable diameter, reading, tension.

    Rows with tabs, semicolons or commas between; the diameter and the tension may have units
    (in, mm; lb, N). Refuses by row what is not understood.
    """
    tables: dict[tuple[str, float], list[list[float]]] = {}
    rows = [line for line in text.splitlines() if line.strip()]
    if rows and rows[0].lower().startswith("riser"):
        rows = rows[1:]
    if not rows:
        raise Refused("card", "needs rows: riser, cable diameter, reading, tension")
    for i, line in enumerate(rows, start=1):
        mark = next((m for m in ("\t", ";", ",") if m in line), ",")
        parts = [p.strip() for p in line.split(mark)]
        if len(parts) != 4:
            raise Refused(f"card.{i}", "must be riser, cable diameter, reading, tension")
        diameter = parse(parts[1], "length", "in", f"card.{i}.diameter").si
        reading = _numbers(parts[2], f"card.{i}.reading")[0]
        force = parse(parts[3], "force", "lbf", f"card.{i}.tension").si
        tables.setdefault((parts[0], round(diameter, 9)), []).append([reading, force])
    found: list[dict[str, Any]] = [
        {"riser": riser, "diameter_m": d, "points": points} for (riser, d), points in tables.items()
    ]
    # The rule itself says whether the card can be used.
    for t in found:
        at = t["points"][0][0]
        rule("cables.card_tension").run(
            {"tables": found, "riser": t["riser"], "diameter_m": t["diameter_m"], "readings": [at]}
        )
    return found
