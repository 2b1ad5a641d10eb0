"""Rule book: measuring cable tension, by card, by pull, by sound."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from core.basis.refused import Refused, finite
from core.cables.card import Table, card_tension
from core.cables.compare import compare_readings
from core.cables.pluck import Found, pluck_frequency
from core.cables.pluck_signal import Signal, made
from core.cables.pull import expected_deflection, sideways_pull
from core.cables.string import plucked_tension
from core.rulebook.fields import Field
from core.rulebook.rules.cables_tension import CAUTION, item_of, known
from core.rulebook.rules.entry import Entry

WHERE = "Measured where the maker says, at neutral, controls pinned."


def tables_of(things: list[Any]) -> tuple[Table, ...]:
    """The tables of a card from plain data."""
    found = []
    for i, thing in enumerate(things):
        at = f"tables.{i}"
        given = item_of(thing, at)
        known(given, at, ("riser", "diameter_m", "points"), ())
        points = tuple(
            tuple(finite(v, f"{at}.points.{j}") for v in p) for j, p in enumerate(given["points"])
        )
        found.append(
            Table(str(given["riser"]), finite(given["diameter_m"], f"{at}.diameter_m"), points)  # type: ignore[arg-type]
        )
    return tuple(found)


def _card(x: dict[str, Any]) -> dict[str, Any]:
    return asdict(card_tension(**(x | {"tables": tables_of(x["tables"])})))


def _shown(f: Found) -> dict[str, Any]:
    return asdict(f) | {
        "partials": list(f.partials),
        "alternatives_Hz": list(f.alternatives_Hz),
    }


def _pluck(x: dict[str, Any]) -> dict[str, Any]:
    band = (x["f_low_Hz"], x["f_high_Hz"])
    if "signal" in x:
        given = item_of(x["signal"], "signal")
        known(
            given,
            "signal",
            ("rate_Hz", "duration_s", "f1_Hz", "partials"),
            ("onset_s", "inharmonicity", "noise", "seed", "clip"),
        )
        signal = Signal(**given)
        return _shown(pluck_frequency(made(signal), signal.rate_Hz, *band))
    if "samples" not in x:
        raise Refused("samples", "is needed")
    if "rate_Hz" not in x:
        raise Refused("rate_Hz", "is needed")
    return _shown(pluck_frequency(x["samples"], x["rate_Hz"], *band))


def _compare(x: dict[str, Any]) -> dict[str, Any]:
    return asdict(compare_readings(x["readings"]))


ENTRIES = (
    Entry(
        "cables.card_tension",
        "Tension by the instrument's card",
        "Readings converted by the calibration card of the instrument.",
        (
            Field("tables", "list", "{riser, diameter_m, points [[reading, N]]}.", required=True),
            Field("riser", "text", doc="Which riser was used.", required=True),
            Field("diameter_m", doc="Diameter of the cable.", required=True),
            Field("readings", "numbers", "Divisions.", required=True),
            Field("u_reading", doc="Standard uncertainty, divisions."),
            Field("u_card_N", doc="Standard uncertainty of the card."),
        ),
        (
            Field("tension_N", doc="Tension."),
            Field("u_tension_N", doc="Standard uncertainty of the tension."),
            Field("single", "flag", "One reading only."),
        ),
        _card,
        "The instrument's calibration card; linear between its points.",
        f"Inside the card only. {WHERE} Past its calibration date it may not be used to sign.",
        CAUTION,
    ),
    Entry(
        "cables.sideways_pull",
        "Tension by a sideways pull",
        "Tension from a spring scale's pull at mid-span and the deflection.",
        (
            Field("span_m", doc="Between supports.", required=True),
            Field("force_N", doc="Force at mid-span.", required=True),
            Field("deflection_m", doc="Sideways movement of the middle.", required=True),
            Field("compliance_m_per_N", doc="Of what resists the stretch.", required=True),
            Field("u_span_m", doc="Standard uncertainty."),
            Field("u_force_N", doc="Standard uncertainty."),
            Field("u_deflection_m", doc="Standard uncertainty."),
            Field("u_compliance_m_per_N", doc="Standard uncertainty."),
        ),
        (
            Field("tension_N", doc="Before the pull."),
            Field("tension_under_pull_N", doc="While pulling."),
            Field("small_angle_N", doc="What the short formula says."),
            Field("small_angle_error", doc="How far that is off, relative."),
            Field("stretch_share", doc="What the pull adds, relative."),
            Field("pull_less", "flag", "The pull stretches it by over a tenth."),
            Field("u_tension_N", doc="Standard uncertainty of the tension."),
        ),
        lambda x: asdict(sideways_pull(**x)),
        "Statics of a pulled span, with the cable's stretch.",
        f"Deflection up to a tenth of the span; weight ignored. {WHERE}",
        CAUTION,
    ),
    Entry(
        "cables.expected_deflection",
        "Deflection to expect",
        "How far a force moves the middle of a span at a given tension.",
        (
            Field("span_m", doc="Between supports.", required=True),
            Field("force_N", doc="Force at mid-span.", required=True),
            Field("tension_N", doc="Tension.", required=True),
            Field("compliance_m_per_N", doc="Of what resists the stretch.", required=True),
        ),
        (Field("deflection_m", doc="Sideways movement of the middle."),),
        lambda x: {"deflection_m": expected_deflection(**x)},
        "Statics of a pulled span, with the cable's stretch.",
        "Deflection up to a tenth of the span.",
        CAUTION,
    ),
    Entry(
        "cables.plucked_tension",
        "Tension by sound",
        "Bounds of the tension from the note of a plucked span.",
        (
            Field("frequency_Hz", doc="First frequency of the span.", required=True),
            Field("span_m", doc="Between supports.", required=True),
            Field("mass_per_length_kg_m", doc="Mass per length.", required=True),
            Field("ei_low_Nm2", doc="Wires sliding.", required=True),
            Field("ei_high_Nm2", doc="Wires as one.", required=True),
            Field("u_frequency_Hz", doc="Its standard uncertainty."),
            Field("u_span_m", doc="Standard uncertainty."),
            Field("u_mass_rel", doc="Relative."),
        ),
        (
            Field("ideal_N", doc="Of a string without stiffness."),
            Field("low_N", doc="Clamped ends, wires as one."),
            Field("high_N", doc="Pinned ends, wires sliding."),
            Field("tension_N", doc="Tension."),
            Field("u_tension_N", doc="Standard uncertainty of the tension."),
        ),
        lambda x: asdict(plucked_tension(**x)),
        "Vibration of a tensioned beam (any text); JCGM 100:2008 4.3.7.",
        "The longest free span is best; a turnbuckle inside the span refuses the method.",
        CAUTION,
    ),
    Entry(
        "cables.pluck_frequency",
        "Fundamental of a pluck",
        "The fundamental that explains the tones of a recording.",
        (
            Field("samples", "numbers", "Mono, ±1."),
            Field("rate_Hz", doc="Samples per second."),
            Field("signal", "object", "A made-up pluck instead of samples."),
            Field("f_low_Hz", doc="Lowest fundamental expected.", required=True),
            Field("f_high_Hz", doc="Highest fundamental expected.", required=True),
        ),
        (
            Field("frequency_Hz", doc="First frequency of the span."),
            Field("inferred", "flag", "The fundamental itself was not heard."),
            Field("partials", "numbers", doc="Multiples that were heard."),
            Field("single_peak", "flag", doc="Only one tone was heard."),
            Field("alternatives_Hz", "numbers", doc="What a single tone could be a multiple of."),
            Field("mains_suspect", "flag", doc="A single tone at a frequency of the mains."),
            Field("u_frequency_Hz", doc="Its standard uncertainty."),
        ),
        _pluck,
        "Windowed Fourier transform; harmonic matching (this product's).",
        "A single peak or a mains suspect is for a person to confirm.",
        CAUTION,
    ),
    Entry(
        "cables.compare_readings",
        "Do the methods agree?",
        "Whether several ways of measuring one tension agree, and their weighted mean.",
        (Field("readings", "list", "[N, u N] of each.", required=True),),
        (
            Field("agree", "flag", doc="All pairs lie within their uncertainty."),
            Field("worst_ratio", doc="1: apart by their expanded uncertainty."),
            Field("tension_N", doc="Tension."),
            Field("u_tension_N", doc="Standard uncertainty of the tension."),
        ),
        _compare,
        "JCGM 100:2008; weighted mean with 1/u².",
        "At least two, each with its uncertainty.",
        CAUTION,
    ),
)
