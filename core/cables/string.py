"""Tension from the note of a plucked span: `cables.plucked_tension`.

A cable is stiff and its ends are neither pinned nor clamped, so that a string's formula gives
only bounds. Source: vibration of a tensioned beam (any text); rectangular share of the bounds
after JCGM 100:2008 4.3.7. Longest free span is best; a turnbuckle in the span refuses it.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Annotated

from scipy.optimize import brentq

from core.basis.refused import Refused, finite, not_negative, positive
from core.basis.rules import rule
from core.cables.words import CAUTION

# First root of cos x cosh x = 1: a clamped beam without tension.
CLAMPED = 4.730040744862704
OVERFLOW = 700.0


@dataclass(frozen=True)
class Plucked:
    """Tension, N: of an ideal string, both bounds, the middle and its standard uncertainty."""

    ideal_N: Annotated[float, "Of a string without stiffness."]
    low_N: Annotated[float, "Clamped ends, wires as one."]
    high_N: Annotated[float, "Pinned ends, wires sliding."]
    tension_N: Annotated[float, "Tension."]
    u_tension_N: Annotated[float, "Standard uncertainty of the tension."]


def string_frequency(tension_N: float, span_m: float, mass_kg_m: float) -> float:
    """First frequency, Hz, of an ideal string."""
    return math.sqrt(tension_N / mass_kg_m) / (2.0 * span_m)


@rule(
    "cables.plucked_tension",
    title="Tension by sound",
    purpose="Bounds of the tension from the note of a plucked span.",
    source="Vibration of a tensioned beam (any text); JCGM 100:2008 4.3.7.",
    validity="The longest free span is best; a turnbuckle inside the span refuses the method.",
    caution=CAUTION,
)
def plucked_tension(
    frequency_Hz: Annotated[float, "First frequency of the span."],
    span_m: Annotated[float, "Between supports."],
    mass_per_length_kg_m: Annotated[float, "Mass per length."],
    ei_low_Nm2: Annotated[float, "Wires sliding."],
    ei_high_Nm2: Annotated[float, "Wires as one."],
    u_frequency_Hz: Annotated[float, "Its standard uncertainty."] = 0.0,
    u_span_m: Annotated[float, "Standard uncertainty."] = 0.0,
    u_mass_rel: Annotated[float, "Relative."] = 0.0,
) -> Plucked:
    """Tension between a pinned span with ei_low and a clamped one with ei_high.

    Refuses bounds the wrong way round, and a frequency below that of the stiff span without
    any tension.
    """
    f, length = positive(frequency_Hz, "frequency_Hz"), positive(span_m, "span_m")
    mass = positive(mass_per_length_kg_m, "mass_per_length_kg_m")
    not_negative(ei_low_Nm2, "ei_low_Nm2")
    if finite(ei_high_Nm2, "ei_high_Nm2") < ei_low_Nm2 or ei_high_Nm2 <= 0:
        raise Refused("ei_high_Nm2", "must be greater than zero and not below ei_low_Nm2")
    ideal = 4.0 * mass * length**2 * f**2
    high = ideal - ei_low_Nm2 * math.pi**2 / length**2
    low = clamped_tension(f, length, mass, ei_high_Nm2)
    half = (high - low) / 2.0
    u = math.sqrt(
        (2.0 * ideal * not_negative(u_frequency_Hz, "u_frequency_Hz") / f) ** 2
        + (2.0 * ideal * not_negative(u_span_m, "u_span_m") / length) ** 2
        + (ideal * not_negative(u_mass_rel, "u_mass_rel")) ** 2
        + half**2 / 3.0
    )
    return Plucked(ideal, low, high, (low + high) / 2.0, u)


def clamped_tension(frequency_Hz: float, span_m: float, mass_kg_m: float, ei_Nm2: float) -> float:
    """Tension, N, at which a beam clamped at both ends has this first frequency."""
    omega = 2.0 * math.pi * frequency_Hz
    q = span_m**2 * math.sqrt(mass_kg_m * omega**2 / ei_Nm2)
    if q < CLAMPED**2:
        raise Refused("frequency_Hz", "lower than this span would ring with no tension at all")
    x = float(brentq(lambda x: _characteristic(x, q), math.pi, CLAMPED, xtol=1e-15, rtol=1e-14))
    return ei_Nm2 * ((q / x) ** 2 - x**2) / span_m**2


def clamped_frequency(tension_N: float, span_m: float, mass_kg_m: float, ei_Nm2: float) -> float:
    """First frequency, Hz, of a clamped beam under tension: the inverse of `clamped_tension`."""
    bare = CLAMPED**2 / span_m**2 * math.sqrt(ei_Nm2 / mass_kg_m) / (2.0 * math.pi)
    most = bare + 2.0 * string_frequency(tension_N, span_m, mass_kg_m)
    return float(
        brentq(
            lambda f: clamped_tension(f, span_m, mass_kg_m, ei_Nm2) - tension_N,
            bare * (1 + 1e-12),
            most,
        )
    )


def _characteristic(x: float, q: float) -> float:
    y = q / x
    inverse = 0.0 if y > OVERFLOW else 1.0 / math.cosh(y)
    return 2.0 * q * (inverse - math.cos(x)) + (y * y - x * x) * math.tanh(y) * math.sin(x)
