"""Rule book: routes of cables, their ends, and the forces on brackets."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from core.basis.refused import Refused, finite
from core.cables.ends import (
    WHIP,
    ProofLimits,
    Step,
    proof_load,
    sleeve_check,
    slide_on_order,
)
from core.cables.forces import Load, bracket_load, pulley_force
from core.cables.path import vec
from core.cables.route import (
    Groove,
    fairlead_check,
    guard_check,
    order_check,
    pair_gap,
    pulley_check,
    travel_gap,
)
from core.rulebook.fields import Field
from core.rulebook.rules.cables_tension import CAUTION, item_of, known
from core.rulebook.rules.entry import VERDICT, Entry

RUB = "14 CFR 23.689(b): the cable must not rub the flange, guards closely fitted."
_GROOVE = tuple(Groove.__dataclass_fields__)
_PROOF = tuple(ProofLimits.__dataclass_fields__)


def _pulley(x: dict[str, Any]) -> dict[str, Any]:
    groove = Groove(**{k: v for k, v in x.items() if k in _GROOVE})
    c = pulley_check(groove=groove, **{k: v for k, v in x.items() if k not in _GROOVE})
    return asdict(c)


def _fairlead(x: dict[str, Any]) -> dict[str, Any]:
    f = fairlead_check(**x)
    return {"deflection_rad": f.deflection_rad, "verdict": f.verdict.value}


def _gap(x: dict[str, Any]) -> dict[str, Any]:
    g = travel_gap(**x)
    return {
        "gap_m": g.gap_m,
        "fouls": g.fouls,
        "verdict": g.verdict.value,
        "at": "high" if g.at_high else "low",
    }


def _pair(x: dict[str, Any]) -> dict[str, Any]:
    g = pair_gap(**x)
    return {"gap_m": g.gap_m, "verdict": g.verdict.value}


def _order(x: dict[str, Any]) -> dict[str, Any]:
    for i, bank in enumerate(x["banks"]):
        if not isinstance(bank, list) or not all(isinstance(n, str) for n in bank):
            raise Refused(f"banks[{i}]", "must be a list of cable names")
    return {"crossings": [list(c) for c in order_check(x["banks"])]}


def _guard(x: dict[str, Any]) -> dict[str, Any]:
    g = guard_check(**x)
    return {"verdict": g.verdict.value, "why": g.why}


def steps_of(things: list[Any]) -> tuple[Step, ...]:
    """Steps from {do, item, end}."""
    found = []
    for i, thing in enumerate(things):
        given = item_of(thing, f"steps[{i}]")
        known(given, f"steps[{i}]", ("do", "end"), ("item",))
        if given["do"] == "slide" and "item" not in given:
            raise Refused(f"steps[{i}].item", "is needed")
        found.append(Step(given["do"], given["end"], given.get("item", "")))
    return tuple(found)


def _sizes(things: dict[str, Any], field: str) -> dict[str, float]:
    return {k: finite(v, f"{field}.{k}") for k, v in things.items()}


def _slide(x: dict[str, Any]) -> dict[str, Any]:
    if not all(isinstance(r, str) for r in x["required"]):
        raise Refused("required", "must be a list of names")
    t = slide_on_order(
        x["required"],
        _sizes(x["bores_m"], "bores_m"),
        _sizes(x["ends_m"], "ends_m"),
        steps_of(x["steps"]),
    )
    return {
        "possible": t.possible,
        "complete": t.complete,
        "missing": list(t.missing),
        "why": t.why or None,
    }


def _proof(x: dict[str, Any]) -> dict[str, Any]:
    given: dict[str, Any] = {"hold_required_s": None, "set_limit_m": None}
    limits = ProofLimits(**(given | {k: v for k, v in x.items() if k in _PROOF}))
    p = asdict(proof_load(limits=limits, **{k: v for k, v in x.items() if k not in _PROOF}))
    p["set"] = p.pop("set_verdict")
    return p


def _force(x: dict[str, Any]) -> dict[str, Any]:
    f = pulley_force(**x)
    return {"force_N": list(f.force_N), "magnitude_N": f.magnitude_N}


def _bracket(x: dict[str, Any]) -> dict[str, Any]:
    loads = []
    for i, thing in enumerate(x["loads"]):
        given = item_of(thing, f"loads.{i}")
        known(given, f"loads.{i}", ("force_N", "point"), ())
        force = vec(given["force_N"], f"loads.{i}.force_N")
        loads.append(Load(force, vec(given["point"], f"loads.{i}.point")))
    b = bracket_load(loads, x["about"], x["allowable_N"])
    return {
        "force_N": list(b.force_N),
        "magnitude_N": b.magnitude_N,
        "moment_Nm": list(b.moment_Nm),
        "margin": b.margin,
    }


_IN = Field("d_in", "numbers", "Running direction before.", required=True)
_OUT = Field("d_out", "numbers", "Running direction after.", required=True)

ENTRIES = (
    Entry(
        "cables.pulley_check",
        "Cable over a pulley",
        "Wrap, misalignment against its limit and the flange, and ratio of diameters.",
        (
            _IN,
            _OUT,
            Field("axis", "numbers", "Axis of the pulley.", required=True),
            Field("groove_radius_m", doc="Bottom of the groove.", required=True),
            Field("cable_diameter_m", doc="Diameter of the cable.", required=True),
            Field("flange_radius_m", doc="With rim_width_m: where the cable rubs."),
            Field("rim_width_m", doc="Between the flanges at the rim."),
            Field("misalignment_limit_rad", doc="None is shipped: enter the maker's."),
            Field("ratio_min", doc="None is shipped: enter the maker's.", unit=""),
            Field("u_angle_rad", doc="Standard uncertainty of the directions."),
        ),
        (
            Field("wrap_rad", doc="Angle that the cable wraps."),
            Field("misalignment_rad", doc="Out of the pulley's plane."),
            Field("ratio", doc="Groove diameter over cable diameter.", unit=""),
            Field("rub_angle_rad", doc="Where the cable touches the flange."),
            Field("alignment", "text", doc="Verdict, or not judged."),
            Field("diameter", "text", doc="Verdict, or not judged."),
        ),
        _pulley,
        RUB,
        "Directions both in the running direction.",
        CAUTION,
    ),
    Entry(
        "cables.fairlead_check",
        "Cable through a fairlead",
        "A fairlead may bend the cable by 3° at most.",
        (
            _IN,
            _OUT,
            Field("u_angle_rad", doc="Standard uncertainty of the directions."),
            Field("limit_rad", doc="Default 3°."),
        ),
        (Field("deflection_rad", doc="Bend of the cable there."), VERDICT),
        _fairlead,
        "14 CFR 23.689(c), AC 43.13-1B ch. 7.",
        "Judge at every position of the travel.",
        CAUTION,
    ),
    Entry(
        "cables.travel_gap",
        "A moving fitting near a fixed thing",
        "How near a turnbuckle or terminal comes to a fairlead or pulley.",
        (
            Field(
                "item", "numbers", "Stations along the route, at neutral.", required=True, unit="m"
            ),
            Field("obstacle", "numbers", "The same.", required=True, unit="m"),
            Field("travel", "numbers", "Low and high, 0 included.", required=True, unit="m"),
            Field("required_m", doc="Default 0.0508 (2 in): confirm with the maker."),
            Field("u_m", doc="Standard uncertainty."),
        ),
        (
            Field("gap_m", doc="The smallest gap."),
            Field("fouls", "flag", doc="They meet."),
            VERDICT,
            Field("at", "text", "End of the travel at which it is nearest."),
        ),
        _gap,
        "Customary default of 2 in; geometry.",
        "Stations along the route.",
        CAUTION,
    ),
    Entry(
        "cables.pair_gap",
        "Two moving fittings",
        "How near two turnbuckles on neighbouring cables come.",
        (
            Field("item_A", "numbers", "At neutral.", required=True, unit="m"),
            Field("item_B", "numbers", "At neutral.", required=True, unit="m"),
            Field("relative_travel", "numbers", "Of B against A.", required=True, unit="m"),
            Field("lateral_m", doc="Between the two cables.", required=True),
            Field("radius_A_m", doc="Of the item on cable A.", required=True),
            Field("radius_B_m", doc="Of the item on cable B.", required=True),
            Field("required_m", doc="Least gap.", required=True),
            Field("u_m", doc="Standard uncertainty."),
        ),
        (Field("gap_m", doc="The smallest gap."), VERDICT),
        _pair,
        "Geometry.",
        "Parallel cables.",
        CAUTION,
    ),
    Entry(
        "cables.order_check",
        "Order of cables",
        "Which cables cross between one bank of pulleys and the next.",
        (Field("banks", "list", "Names in order across each bank.", required=True),),
        (Field("crossings", "list", "[bank, cable, cable]."),),
        _order,
        "The drawing; a crossing is a finding unless it shows it.",
        "Names the same in each bank.",
        CAUTION,
    ),
    Entry(
        "cables.guard_check",
        "Guard at a pulley",
        "Present, and closer than the cable is thick.",
        (
            Field("present", "flag", doc="There is a guard.", required=True),
            Field("gap_m", doc="The smallest gap."),
            Field("cable_diameter_m", doc="Diameter of the cable.", required=True),
            Field("limit_m", doc="Default: the diameter."),
            Field("u_m", doc="Standard uncertainty."),
        ),
        (VERDICT, Field("why", "text", doc="Why it is not in.")),
        _guard,
        RUB,
        "Gap between guard and pulley.",
        CAUTION,
    ),
    Entry(
        "cables.slide_on_order",
        "What goes on before an end is pressed",
        "Whether everything is on the cable in order, or can still come on.",
        (
            Field("required", "list", "In order from end A to end B.", required=True),
            Field("bores_m", "object", "Bore of each item.", required=True),
            Field("ends_m", "object", "Outer size of the fitting at A and B.", required=True),
            Field("steps", "list", "{do: slide, item, end} or {do: press, end}.", required=True),
        ),
        (
            Field("possible", "flag", doc="All can still be on in the end."),
            Field("complete", "flag", doc="All are on, in order."),
            Field("missing", "list", doc="What is not on."),
            Field("why", "text", doc="Why it is not in."),
        ),
        _slide,
        "Geometry of bores and fittings.",
        "Items that cannot be opened.",
        CAUTION,
    ),
    Entry(
        "cables.sleeve_check",
        "Oval compression sleeve",
        "Thimble or a recorded deviation, count of presses, go/no-go size.",
        (
            Field("thimble", "flag", doc="A thimble is in the eye.", required=True),
            Field("deviation_source", "text", doc="Document that allows none."),
            Field("deviation_reason", "text", doc="Why there is none."),
            Field("presses", "integer", doc="How many were made.", required=True),
            Field(
                "presses_required", "integer", doc="How many the tool's maker asks.", required=True
            ),
            Field("after_m", "numbers", "Size after each press.", required=True),
            Field("go_min_m", doc="Least size, if any."),
            Field("go_max_m", doc="The tool maker's.", required=True),
            Field("u_m", doc="Standard uncertainty."),
        ),
        (
            Field("thimble", "text", doc="A thimble is in the eye."),
            Field("presses", "text", doc="How many were made."),
            Field("dimension", "text", doc="Verdict of the size."),
            VERDICT,
        ),
        lambda x: asdict(sleeve_check(**x)),
        "The tool maker's gauge and press count (entered by the user).",
        "Without a thimble only where the maker's drawing says so.",
        CAUTION,
    ),
    Entry(
        "cables.proof_load",
        "Proof load",
        "60 % of breaking strength held, without slip, set within limits; stiffness measured.",
        (
            Field("breaking_N", doc="Breaking strength.", required=True),
            Field("applied_N", doc="Load applied.", required=True),
            Field("held_s", doc="How long.", required=True),
            Field("hold_required_s", doc="None is shipped: enter your source's."),
            Field("length_before_m", doc="Before the load.", required=True),
            Field("length_loaded_m", doc="Under the load.", required=True),
            Field("length_after_m", doc="After the load.", required=True),
            Field("set_limit_m", doc="None is shipped: enter your source's."),
            Field("mark_slip_m", doc="Slip of the paint marks.", required=True),
            Field("slip_limit_m", doc="Default 0."),
            Field("fraction", doc="Default 0.60.", unit=""),
            Field("preload_N", doc="Load at which the first and last lengths are taken."),
            Field("u_force_N", doc="Standard uncertainty."),
            Field("u_length_m", doc="Standard uncertainty of the length."),
        ),
        (
            Field("required_N", doc="What the load must reach."),
            Field("force", "text", doc="Verdict of the load."),
            Field("time", "text", doc="Verdict of the time."),
            Field("set_m", doc="How much longer it stays."),
            Field("set", "text", doc="Verdict of the set."),
            Field("slip", "text", doc="Verdict of the slip."),
            Field("ae_N", doc="Axial stiffness."),
            VERDICT,
        ),
        _proof,
        "AC 43.13-1B ch. 7 (60 %); hold time and permitted set: the user's source.",
        "At most 80 % of the breaking strength.",
        WHIP,
    ),
    Entry(
        "cables.pulley_force",
        "Force on a pulley",
        "What the cable does to the pulley and its bracket.",
        (
            Field("tension_in_N", doc="Before the pulley.", required=True),
            Field("tension_out_N", doc="After the pulley.", required=True),
            _IN,
            _OUT,
        ),
        (
            Field("force_N", "numbers", doc="Force at mid-span."),
            Field("magnitude_N", doc="Of the force."),
        ),
        _force,
        "Statics.",
        "Directions both in the running direction.",
        CAUTION,
    ),
    Entry(
        "cables.bracket_load",
        "Load on a bracket",
        "Sum and moment of the forces of several pulleys, and the margin.",
        (
            Field("loads", "list", "{force_N, point}.", required=True),
            Field("about", "numbers", "Point for the moment.", required=True, unit="m"),
            Field("allowable_N", doc="What the bracket may carry.", required=True),
        ),
        (
            Field("force_N", "numbers", doc="Force at mid-span."),
            Field("magnitude_N", doc="Of the force."),
            Field("moment_Nm", "numbers", doc="About the point."),
            Field("margin", doc="Allowable over force, less one.", unit=""),
        ),
        _bracket,
        "Statics; pilot effort after the maker or 14 CFR 23.397 (entered by the user).",
        "Use the highest of hot rigged tension, full travel, pilot effort.",
        CAUTION,
    ),
)
