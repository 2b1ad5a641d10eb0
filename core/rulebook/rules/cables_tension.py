"""Rule book: what a cable is, its tension over temperature, and turnbuckles."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from core.basis.refused import Refused, finite
from core.cables.cable import (
    CONSTRUCTIONS,
    MATERIALS,
    cable_data,
    cable_size_check,
    stiffness_from_stretch,
)
from core.cables.temperature import (
    Line,
    Segment,
    chart_tension,
    tension_at_temperature,
    tension_curve,
)
from core.cables.turnbuckle import (
    Buckles,
    learn_compliance,
    turnbuckle_threads,
    turnbuckle_turns,
)
from core.rulebook.fields import Field
from core.rulebook.rules.entry import VERDICT, Entry

CAUTION = (
    "Control cables: a second person checks sense, travel, tension and safetying before flight. "
    "Figures here do not replace the maker's data."
)
ASSUMED = "Stiffness assumed ±40 % (this product's model); measure to improve."
SOAK = (
    "Measure tension after the aircraft has stood at one temperature. A steel cable in an "
    "aluminium airframe loses tension in the cold."
)
BOTTOMED = (
    "A bottomed turnbuckle cannot be tightened: shorten the cable. Too many threads outside: "
    "lengthen the engagement, or the cable is too long or too short."
)
TABLE = "MIL-W-83420 / MIL-DTL-83420 Type I, as in AC 43.13-1B ch. 7."
MECHANICS = "Linear elasticity and thermal expansion (any mechanics text)."


def item_of(thing: Any, field: str) -> dict[str, Any]:
    """An object, nulls left out."""
    if not isinstance(thing, dict):
        raise Refused(field, "must be an object")
    return {k: v for k, v in thing.items() if v is not None}


def known(
    given: dict[str, Any], field: str, needed: tuple[str, ...], more: tuple[str, ...]
) -> None:
    """Refuses a missing key and one that is not known."""
    for name in needed:
        if name not in given:
            raise Refused(f"{field}.{name}", "is needed")
    for name in given:
        if name not in (*needed, *more):
            raise Refused(f"{field}.{name}", "is not known here")


def _segments(things: list[Any], field: str) -> tuple[Segment, ...]:
    found = []
    for i, thing in enumerate(things):
        at = f"{field}.{i}"
        given = item_of(thing, at)
        known(given, at, ("length_m", "alpha_per_K"), ("u_alpha_per_K",))
        found.append(Segment(**{k: finite(v, f"{at}.{k}") for k, v in given.items()}))
    return tuple(found)


def _line(x: dict[str, Any]) -> Line:
    given = {k: v for k, v in x.items() if k in Line.__dataclass_fields__}
    for name in ("airframe", "fittings"):
        if name in given:
            given[name] = _segments(given[name], name)
    return Line(**given)


def _tension(x: dict[str, Any]) -> dict[str, Any]:
    return asdict(tension_at_temperature(_line(x), x["temperature_K"]))


def _curve(x: dict[str, Any]) -> dict[str, Any]:
    c = tension_curve(_line(x), **{k: x[k] for k in ("lo_K", "hi_K", "n") if k in x})
    return asdict(c) | {"curve": [list(p) for p in c.curve]}


BUCKLES = tuple(Buckles.__dataclass_fields__)


def _turns(x: dict[str, Any]) -> dict[str, Any]:
    empty = {"travel_per_turn_A_m": None, "travel_per_turn_B_m": None}
    buckles = Buckles(**(empty | {k: v for k, v in x.items() if k in BUCKLES}))
    rest = {k: v for k, v in x.items() if k not in BUCKLES}
    return asdict(turnbuckle_turns(buckles=buckles, **rest))


def _threads(x: dict[str, Any]) -> dict[str, Any]:
    t = turnbuckle_threads(**x)
    return asdict(t) | {"after_threads": list(t.after_threads)}


def _learn(x: dict[str, Any]) -> dict[str, Any]:
    travel = {"travel_per_turn_A_m": None, "travel_per_turn_B_m": None}
    return asdict(learn_compliance(**(travel | x)))


_REFERENCE = (
    Field("tension_ref_N", doc="Tension at the reference temperature.", required=True),
    Field("temperature_ref_K", doc="Reference temperature, 213.15 to 343.15.", required=True),
    Field("cable_length_m", doc="Of the cable only.", required=True),
    Field("ae_N", doc="Axial stiffness.", required=True),
    Field("cable_alpha_per_K", doc="Expansion of the cable.", required=True),
    Field(
        "airframe",
        "list",
        "Pieces along the run {length_m, alpha_per_K, u_alpha_per_K}.",
        required=True,
    ),
    Field("fittings", "list", "The same for turnbuckles, terminals, links (taken as rigid)."),
    Field("frame_compliance_m_per_N", doc="How far the two ends give; 0: rigid."),
    Field("u_tension_ref_N", doc="Standard uncertainty."),
    Field("u_ae_N", doc="Standard uncertainty."),
    Field("u_cable_alpha_per_K", doc="Standard uncertainty."),
    Field("u_temperature_K", doc="Standard uncertainty."),
)
_TRAVELS = (
    Field("travel_per_turn_A_m", doc="Pitches of both threads together; null: no turnbuckle."),
    Field("travel_per_turn_B_m", doc="The same for side B."),
)

ENTRIES = (
    Entry(
        "cables.cable_data",
        "Cable data",
        "Diameter, breaking strength, mass and assumed stiffness of a shipped cable.",
        (
            Field("construction", "text", "7x7 or 7x19.", required=True, choices=CONSTRUCTIONS),
            Field("diameter_in", doc="Catalogue size.", required=True),
            Field("material", "text", "Composition A or B.", required=True, choices=MATERIALS),
        ),
        (
            Field("diameter_m", doc="Diameter of the cable."),
            Field("breaking_N", doc="Breaking strength."),
            Field("mass_per_length_kg_m", doc="Mass per length."),
            Field("metal_area_m2", doc="Area of metal, from mass and density."),
            Field("ae_N", doc="Axial stiffness, assumed."),
            Field("u_ae_N", doc="Its standard uncertainty."),
        ),
        lambda x: asdict(cable_data(**x)),
        TABLE,
        f"Pre-stretched cable under 20 % of its breaking strength. {ASSUMED}",
        CAUTION,
    ),
    Entry(
        "cables.stiffness_from_stretch",
        "Stiffness from a stretch",
        "Axial stiffness measured: how far a length stretches between two loads.",
        (
            Field("length_m", doc="Length measured.", required=True),
            Field("load_low_N", doc="Low load.", required=True),
            Field("load_high_N", doc="High load.", required=True),
            Field("stretch_m", doc="How much longer at the high load.", required=True),
            Field("u_length_m", doc="Standard uncertainty of the length."),
            Field("u_load_N", doc="Standard uncertainty of each load."),
            Field("u_stretch_m", doc="Standard uncertainty of the stretch."),
        ),
        (Field("ae_N", doc="Axial stiffness."), Field("u_ae_N", doc="Its standard uncertainty.")),
        lambda x: asdict(stiffness_from_stretch(**x)),
        MECHANICS,
        "Stretch up to 5 % of the length; pre-stretched cable.",
        CAUTION,
    ),
    Entry(
        "cables.cable_size_check",
        "Least size of a primary cable",
        "No cable under 1/8 in in a primary control system.",
        (
            Field("diameter_m", doc="Diameter of the cable.", required=True),
            Field("primary", "flag", "Elevator, ailerons, rudder.", required=True),
        ),
        (VERDICT,),
        lambda x: {"verdict": cable_size_check(**x).value},
        "14 CFR 23.689(a)(1), amendments before 23-64; tab cables 23.689(f).",
        "Tab cables may be smaller, with conditions.",
        CAUTION,
    ),
    Entry(
        "cables.chart_tension",
        "Tension from the maker's chart",
        "Linear between the points of a chart over temperature.",
        (
            Field("points", "list", "[K, N] pairs, temperatures rising.", required=True),
            Field("temperature_K", doc="Temperature, 213.15 to 343.15.", required=True),
        ),
        (Field("value", doc="Tension.", unit="N"),),
        lambda x: {"value": chart_tension(**x)},
        "The maker's chart; linear interpolation.",
        "Inside the chart only.",
        SOAK,
    ),
    Entry(
        "cables.tension_at_temperature",
        "Tension at a temperature",
        "What a cable set at one temperature has at another, in this airframe.",
        (*_REFERENCE, Field("temperature_K", doc="Temperature, 213.15 to 343.15.", required=True)),
        (
            Field("tension_N", doc="Tension."),
            Field("slack", "flag", "It would be zero or less."),
            Field("may_be_slack", "flag", "Zero lies within twice the uncertainty."),
            Field("slope_N_per_K", doc="Change with temperature."),
            Field("slack_temperature_K", doc="Where it goes slack; null: never."),
            Field("u_tension_N", doc="Standard uncertainty of the tension."),
            Field("stiffness_N_per_m", doc="Of cable and frame together."),
        ),
        _tension,
        MECHANICS,
        "One uniform temperature (hours in the shade), small strain, cable free to move over its "
        "pulleys. Sun on one skin is not this case.",
        SOAK,
    ),
    Entry(
        "cables.tension_curve",
        "Tension over temperature",
        "The curve to rig by, and what both ends add to the brackets' load.",
        (
            *_REFERENCE,
            Field("lo_K", doc="Default 243.15."),
            Field("hi_K", doc="Default 323.15."),
            Field("n", "integer", "How many points; default 17."),
        ),
        (
            Field("curve", "list", "[K, N] points."),
            Field("extra_at_hi_N", doc="Warm end, more than the reference."),
            Field("extra_at_lo_N", doc="Cold end, more than the reference."),
        ),
        _curve,
        MECHANICS,
        "As tension_at_temperature.",
        SOAK,
    ),
    Entry(
        "cables.turnbuckle_turns",
        "Turns to make",
        "How far to turn which turnbuckle for the target tension with the lever where it belongs.",
        (
            Field("mode", "text", "free or pinned.", required=True, choices=("free", "pinned")),
            Field("target_N", doc="Tension wanted.", required=True),
            Field("present_A_N", doc="Measured on side A.", required=True),
            Field("present_B_N", doc="Measured on side B.", required=True),
            Field(
                "compliance_A_m_per_N", doc="Of side A with its share of the frame.", required=True
            ),
            Field("compliance_B_m_per_N", doc="Of side B.", required=True),
            *_TRAVELS,
            Field(
                "driven_arm_m",
                doc="Arm on the driven lever, the same on both sides; free levers need it.",
            ),
            Field("recentre_rad", doc="Wanted rotation the way side A pulls."),
            Field("step_turns", doc="Rounded to; default 0.5.", unit="turns"),
        ),
        (
            Field("turns_A", doc="+ tightens."),
            Field("turns_B", doc="Side B, + tightens."),
            Field("rounded_A", doc="Side A in whole steps."),
            Field("rounded_B", doc="Side B in whole steps."),
            Field("after_A_N", doc="Side A after the rounded turns."),
            Field("after_B_N", doc="Side B after the rounded turns."),
            Field("shift_rad", doc="What the rounded turns rotate."),
        ),
        _turns,
        MECHANICS,
        "Equal arms on the driven lever. Make half the turns, measure, learn, repeat.",
        CAUTION,
    ),
    Entry(
        "cables.turnbuckle_threads",
        "Thread showing",
        "Whether a turnbuckle is bottomed, or shows too much thread, before and after turning.",
        (
            Field("showing", "numbers", "Threads outside, both ends.", required=True),
            Field("turns", doc="+ tightens.", required=True),
            Field("limit", doc="Default 3.", unit="threads"),
            Field("safetied", "flag", "Its lock is on."),
            Field("final", "flag", "Set for good; default true."),
        ),
        (
            Field("before", "text", doc="bottomed, out or in, now."),
            Field("after", "text", doc="The same after turning."),
            Field("after_threads", "numbers", doc="Threads showing after turning."),
            Field("uneven", "flag", "Ends differ by over one thread."),
            Field("may_fly", "flag", doc="In, safetied and final."),
        ),
        _threads,
        "AC 43.13-1B ch. 7 (no more than three threads outside the barrel).",
        "Threads counted outside the barrel.",
        BOTTOMED,
    ),
    Entry(
        "cables.learn_compliance",
        "Learn the loop's compliance",
        "What the loop gives per newton, from turns made and tension before and after.",
        (
            Field("turns_A", doc="Made on side A, + tightens.", required=True),
            Field("turns_B", doc="Side B, + tightens.", required=True),
            *_TRAVELS,
            Field("before_N", doc="Tension before.", required=True),
            Field("after_N", doc="Tension after.", required=True),
            Field("u_tension_N", doc="Standard uncertainty of the tension."),
        ),
        (
            Field("loop_compliance_m_per_N", doc="Of both sides together."),
            Field("u_m_per_N", doc="Its standard uncertainty."),
        ),
        _learn,
        MECHANICS,
        "Taut before and after; a change well above the uncertainty.",
        CAUTION,
    ),
)
